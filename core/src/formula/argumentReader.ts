import type { FunctionEntry, OptionRule, Parameter, Settings, Lookback } from '../catalogue/functionEntry.js';
import { DAY, HOUR, MINUTE, SECOND } from '../time/instant.js';
import type { ThisPeriod, Window } from '../windows/window.js';
import { fail, type Node, type OptionNode, type Span } from './tree.js';

/** More rows than any column has; rows are counted in 32 bits. */
const MOST_BARS = 1_000_000_000;
const TIME_UNITS: ReadonlyMap<string, number> = new Map([
  ['second', SECOND],
  ['minute', MINUTE],
  ['hour', HOUR],
  ['day', DAY],
  ['week', 7 * DAY],
]);
const MONTHS: ReadonlyMap<string, number> = new Map([
  ['month', 1],
  ['quarter', 3],
  ['year', 12],
]);
/** A thousand years. */
const MOST_MONTHS = 12_000;
const singularOf = (unit: string): string => unit.toLowerCase().replace(/s$/, '');
const PERIODS: readonly ThisPeriod[] = ['session', 'day', 'week', 'month', 'year'];

const takesMore = (parameter: Parameter | undefined) => parameter?.kind === 'column' && parameter.more;

const ARGUMENTS = ['no arguments', 'one argument'];

/** Fits the arguments of one call to what its function takes. */
export class ArgumentReader {
  private readonly byParameter = new Map<Parameter, Node>();
  /** Columns beyond the last parameter, which takes any number of them. */
  private readonly further: Node[] = [];

  constructor(
    private readonly entry: FunctionEntry,
    private readonly call: Extract<Node, { kind: 'call' }>,
    private readonly text: string,
    /** Whether the formula is one over the values of a window, in which an aggregate without a window takes all of them. */
    private readonly isOverWindow = false,
  ) {
    const { parameters, name } = entry;
    call.args.forEach((argument, index) => {
      const parameter = parameters[index];
      if (parameter) this.byParameter.set(parameter, argument);
      else if (takesMore(parameters[parameters.length - 1])) this.further.push(argument);
      else
        fail(
          `\`${name}\` takes ${ARGUMENTS[parameters.length] ?? `${parameters.length} arguments`}, as in \`${entry.example}\``,
          argument,
        );
    });
  }

  /** Whether the call stands for one value of a whole window. */
  get takesAll(): boolean {
    const parameter = this.entry.parameters.find(({ kind }) => kind === 'window');
    return this.isOverWindow && parameter?.kind === 'window' && parameter.required && !this.byParameter.has(parameter);
  }

  columnNodes(): Node[] {
    const named = this.entry.parameters
      .filter((parameter) => parameter.kind === 'column')
      .map((parameter) => this.byParameter.get(parameter) ?? this.missing('a column', 'close'));
    return [...named, ...this.further];
  }

  settings(): Settings {
    const options = this.readOptions();
    let window: Window | undefined;
    let back: Lookback | undefined;
    for (const parameter of this.entry.parameters) {
      const node = this.byParameter.get(parameter);
      if (parameter.kind === 'window') {
        if (node) window = this.readWindow(node, options);
        else if (this.takesAll) window = { kind: 'all', skip: 0 };
        else if (parameter.required) this.missing('a window', '20 bars');
      } else if (parameter.kind === 'back') {
        back = node ? this.readBack(node) : { bars: parameter.default };
      } else if (parameter.kind === 'text') {
        options.words[parameter.name] = this.readText(parameter, node);
      } else if (parameter.kind === 'number') {
        options.numbers[parameter.name] = node ? this.readAmount(parameter, node) : parameter.default;
      }
    }
    return { window, back, ...options };
  }

  private readText({ name, example }: Extract<Parameter, { kind: 'text' }>, node: Node | undefined): string {
    if (!node) return this.missing(`a ${name} in quotes`, example);
    if (node.kind === 'text') return node.text;
    return fail(`\`${name}\` stands in quotes, such as \`${example}\`, got \`${this.written(node)}\``, node);
  }

  private missing(what: string, example: string): never {
    return fail(`\`${this.entry.name}\` needs ${what}, such as \`${example}\``, {
      start: this.call.end - 1,
      end: this.call.end,
    });
  }

  private readOptions() {
    const { entry } = this;
    const numbers: Record<string, number> = {};
    const words: Record<string, string> = {};
    const stretches: Record<string, Lookback> = {};
    for (const option of this.call.options) {
      const { name: written, nameAt, value } = option;
      const { optionAliases = {} } = entry;
      const name = Object.hasOwn(optionAliases, written) ? optionAliases[written] : written;
      if (name === 'each') continue; // whoever evaluates the call reads it
      const rule = Object.hasOwn(entry.options, name) ? entry.options[name] : undefined;
      if (!rule) {
        const names = [...Object.keys(entry.options), ...(entry.rowwise ? [] : ['each'])];
        return fail(
          `\`${entry.name}\` has no option \`${name}\`; ${names.length > 0 ? `it takes ${names.join(', ')}` : 'it takes none'}`,
          nameAt,
        );
      }
      if ([numbers, words, stretches].some((given) => Object.hasOwn(given, name)))
        fail(`\`${name}\` is given twice`, nameAt);
      if (rule.kind === 'word') words[name] = this.readWord(option, rule.words);
      else if (rule.kind === 'stretch') stretches[name] = this.readStretch(value, `\`${name}\``);
      else if (rule.kind === 'share') numbers[name] = this.readShare(option);
      else numbers[name] = this.readNumber(option, rule);
    }
    return { numbers, words, stretches };
  }

  private readNumber({ name, value }: OptionNode, rule: Extract<OptionRule, { kind: 'whole' | 'number' }>): number {
    const range =
      rule.kind === 'whole'
        ? `a whole number from ${rule.min}`
        : `a number above ${rule.above} and at most ${rule.max}`;
    const got = value.kind === 'number' ? value.value : NaN;
    const fits = rule.kind === 'whole' ? Number.isInteger(got) && got >= rule.min : got > rule.above && got <= rule.max;
    return fits ? got : fail(`\`${name}\` must be ${range}, got \`${this.written(value)}\``, value);
  }

  private readShare({ name, value }: OptionNode): number {
    if (value.kind === 'number' && value.value >= 0 && value.value <= 1) return value.value;
    return fail(`\`${name}\` must be a number from 0 to 1, got \`${this.written(value)}\``, value);
  }

  /** A number by position; `12 bars` is as good as `12` where bars are counted. */
  private readAmount(parameter: Extract<Parameter, { kind: 'number' }>, node: Node): number {
    const { name, whole, above, max } = parameter;
    const isInBars = whole && node.kind === 'quantity' && /^bars?$/.test(node.unit);
    const got = node.kind === 'number' ? node.value : isInBars ? node.amount : NaN;
    if (got > above && got <= max && (!whole || Number.isInteger(got))) return got;
    const range = whole ? 'a whole number from 1' : `a number above ${above}`;
    return fail(`\`${name}\` must be ${range}, got \`${this.written(node)}\``, node);
  }

  private readWord({ name, value }: OptionNode, words: readonly string[]): string {
    const got = this.written(value).replaceAll(/\s/g, '');
    return words.includes(got) ? got : fail(`\`${name}\` must be ${words.join(' or ')}, got \`${got}\``, value);
  }

  private readWindow(node: Node, { numbers, words }: Pick<Settings, 'numbers' | 'words'>): Window {
    const skip = numbers.skip ?? 0;
    if (words.placed && node.kind !== 'quantity') fail('only a window in bars can be placed', node);
    if (node.kind === 'all') return { kind: 'all', skip };
    if (node.kind === 'this') {
      const period = PERIODS.find((known) => known === node.period);
      return period
        ? { kind: 'this', period, skip }
        : fail(`after \`this\` comes ${PERIODS.join(', ')}`, node.periodAt);
    }
    if (node.kind === 'number' && node.value < 1 && Object.hasOwn(this.entry.options, 'factor'))
      return fail(`\`${node.value}\` is no length; if it is the factor, write \`factor: ${node.value}\``, node);
    if (node.kind === 'number')
      return fail(
        `\`${this.entry.name}\` needs to know of what: write \`${node.value} bars\` or \`${node.value} minutes\``,
        node,
      );
    if (node.kind === 'quantity' && MONTHS.has(singularOf(node.unit))) return this.readMonths(node, skip, words);
    const stretch = this.readStretch(node, `\`${this.entry.name}\``);
    if ('micros' in stretch) {
      if (words.placed) fail('only a window in bars can be placed', node);
      return { kind: 'time', micros: stretch.micros, skip };
    }
    return {
      kind: 'bars',
      bars: stretch.bars,
      placed: (words.placed ?? 'behind') as 'behind' | 'centre' | 'ahead',
      skip,
    };
  }

  private readMonths(node: Extract<Node, { kind: 'quantity' }>, skip: number, words: Settings['words']): Window {
    if (words.placed) fail('only a window in bars can be placed', node);
    const months = node.amount * MONTHS.get(singularOf(node.unit))!;
    if (Number.isInteger(months) && months >= 1 && months <= MOST_MONTHS) return { kind: 'months', months, skip };
    return fail(`a window is of whole months from 1, got ${node.amount} ${node.unit}`, node);
  }

  private readBack(node: Node): Lookback {
    if (node.kind === 'unary' && node.operator === '-')
      return fail(
        `\`${this.entry.name}\` counts back; rows ahead are those of \`lead\`, as in \`lead(close, 3)\``,
        node,
      );
    if (node.kind !== 'number') return this.readStretch(node, `\`${this.entry.name}\``, 0);
    if (Number.isInteger(node.value) && node.value <= MOST_BARS) return { bars: node.value };
    return fail(`rows are counted in whole numbers, got \`${this.written(node)}\``, node);
  }

  private readStretch(node: Node, owner: string, least = 1): Lookback {
    if (node.kind !== 'quantity')
      return fail(`${owner} takes a length such as \`20 bars\` or \`30 minutes\`, got \`${this.written(node)}\``, node);
    const { amount, unit, unitAt } = node;
    const singular = singularOf(unit);
    if (MONTHS.has(singular))
      return fail(
        `${owner} takes no stretch of the calendar; months and years are windows, as in \`mean(close, 12 months)\``,
        unitAt,
      );
    if (singular === 'bar') {
      if (
        least === 1 && owner === '`halflife`'
          ? amount > 0
          : Number.isInteger(amount) && amount >= least && amount <= MOST_BARS
      )
        return { bars: amount };
      return fail(`bars are counted in whole numbers from ${least}, got ${amount}`, node);
    }
    const size = TIME_UNITS.get(singular);
    if (size === undefined)
      return fail(
        `\`${unit}\` is no unit of length: bars, seconds, minutes, hours, days, weeks, months, quarters or years`,
        unitAt,
      );
    const micros = Math.round(amount * size);
    return micros > 0 ? { micros } : fail('a stretch of time is above 0', node);
  }

  private written({ start, end }: Span): string {
    return this.text.slice(start, end);
  }
}
