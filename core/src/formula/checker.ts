import { catalogue } from '../catalogue/catalogue.js';
import type { FunctionEntry, OptionRule, Parameter, Settings, Stretch, Unit } from '../catalogue/functionEntry.js';
import { DAY, HOUR, MINUTE, SECOND } from '../time/instant.js';
import type { ThisPeriod, Window } from '../windows/window.js';
import { nearestWord } from './nearest.js';
import {
  FormulaError,
  type BinaryOperator,
  type Node,
  type OptionNode,
  type Span,
  type UnaryOperator,
} from './tree.js';

/** A formula whose names are known and whose arguments fit. */
export type Checked = { unit: Unit; looksAhead: boolean; phrase: string } & (
  | { kind: 'number'; value: number }
  | { kind: 'column'; name: string }
  | { kind: 'entry'; name: string }
  | { kind: 'unary'; operator: UnaryOperator; operand: Checked }
  | { kind: 'binary'; operator: BinaryOperator; left: Checked; right: Checked }
  | { kind: 'call'; entry: FunctionEntry; columns: Checked[]; settings: Settings }
);

/** What names may stand for. */
export interface Scope {
  /** Columns of the frame. */
  columns: ReadonlySet<string>;
  /** Units and looks-ahead marks of entries by name; asked only for names that are entries. */
  entry: (name: string, at: Span) => { unit: Unit; looksAhead: boolean } | undefined;
  entryNames: readonly string[];
}

const COLUMN_UNITS: Record<string, Unit> = {
  open: 'price',
  high: 'price',
  low: 'price',
  close: 'price',
  vwap: 'price',
  volume: 'units',
  value: 'value',
  trades: 'trades',
};

const TIME_UNITS: Record<string, number> = { second: SECOND, minute: MINUTE, hour: HOUR, day: DAY, week: 7 * DAY };
const PERIODS: readonly ThisPeriod[] = ['session', 'day', 'week', 'month', 'year'];

const fail = (message: string, { start, end }: Span): never => {
  throw new FormulaError(message, start, Math.max(1, end - start));
};

/**
 * Looks up every name and fits every argument.
 * @param text  the entry, for words that are read as they stand (`by: rogers-satchell`)
 * @throws {FormulaError} with the place and what would be right
 */
export function check(node: Node, scope: Scope, text: string): Checked {
  switch (node.kind) {
    case 'number':
      return { kind: 'number', value: node.value, unit: 'number', looksAhead: false, phrase: String(node.value) };
    case 'name':
      return checkName(node, scope);
    case 'unary': {
      const operand = check(node.operand, scope, text);
      const unit = node.operator === 'not' ? 'truth' : operand.unit;
      const phrase = `${node.operator === 'not' ? 'not ' : '-'}${operand.phrase}`;
      return { kind: 'unary', operator: node.operator, operand, unit, looksAhead: operand.looksAhead, phrase };
    }
    case 'binary': {
      const left = check(node.left, scope, text);
      const right = check(node.right, scope, text);
      return {
        kind: 'binary',
        operator: node.operator,
        left,
        right,
        unit: unitOf(node.operator, left.unit, right.unit),
        looksAhead: left.looksAhead || right.looksAhead,
        phrase: `${left.phrase} ${node.operator} ${right.phrase}`,
      };
    }
    case 'call':
      return checkCall(node, scope, text);
    case 'quantity':
      return fail(
        `\`${text.slice(node.start, node.end)}\` is a length and stands only inside a function, as in \`mean(close, 20 bars)\``,
        node,
      );
    case 'this':
    case 'all':
      return fail('a window stands only inside a function, as in `mean(close, this session)`', node);
    case 'list':
      return fail('a list stands only inside a function, as in `mean(close, [10, 50] bars)`', node);
  }
}

function checkName(node: Extract<Node, { kind: 'name' }>, scope: Scope): Checked {
  const { name, part } = node;
  if (part !== undefined) return fail(`\`${name}\` has no part \`${part}\``, node);
  if (scope.columns.has(name))
    return { kind: 'column', name, unit: COLUMN_UNITS[name] ?? 'number', looksAhead: false, phrase: name };
  const entry = scope.entry(name, node);
  if (entry) return { kind: 'entry', name, ...entry, phrase: name };
  if (catalogue.has(name))
    return fail(`\`${name}\` is a function; it needs arguments, as in \`${catalogue.get(name)!.example}\``, node);
  const meant = nearestWord(name, [...scope.columns, ...scope.entryNames, ...catalogue.keys()]);
  const known = [...scope.columns].filter((column) => column in COLUMN_UNITS);
  return fail(
    `no column or entry is called \`${name}\`; ${meant ? `did you mean \`${meant}\`?` : `there are ${known.join(', ')}`}`,
    node,
  );
}

function checkCall(node: Extract<Node, { kind: 'call' }>, scope: Scope, text: string): Checked {
  const entry = catalogue.get(node.name);
  if (!entry) {
    const meant = nearestWord(node.name, catalogue.keys());
    return fail(
      `no function is called \`${node.name}\`; ${meant ? `did you mean \`${meant}\`?` : `there are ${[...catalogue.keys()].join(', ')}`}`,
      node.nameAt,
    );
  }
  const reader = new ArgumentReader(entry, node, text);
  const columns = reader.columnNodes().map((argument) => check(argument, scope, text));
  const settings = reader.settings();
  const wrong = entry.refuse?.(settings);
  if (wrong) return fail(wrong, node);
  return {
    kind: 'call',
    entry,
    columns,
    settings,
    unit: entry.unit(columns.map((column) => column.unit)),
    looksAhead: columns.some((column) => column.looksAhead) || (entry.looksAhead?.(settings) ?? false),
    phrase: entry.phrase(
      columns.map((column) => column.phrase),
      settings,
    ),
  };
}

/** Fits the arguments of one call to what its function takes. */
class ArgumentReader {
  private readonly byParameter = new Map<Parameter, Node>();

  constructor(
    private readonly entry: FunctionEntry,
    private readonly call: Extract<Node, { kind: 'call' }>,
    private readonly text: string,
  ) {
    const { parameters, name } = entry;
    call.args.forEach((argument, index) => {
      const parameter = parameters[index];
      if (!parameter)
        fail(
          `\`${name}\` takes ${parameters.length === 1 ? 'one argument' : `${parameters.length} arguments`}, as in \`${entry.example}\``,
          argument,
        );
      this.byParameter.set(parameter, argument);
    });
  }

  columnNodes(): Node[] {
    return this.entry.parameters
      .filter((parameter) => parameter.kind === 'column')
      .map((parameter) => this.byParameter.get(parameter) ?? this.missing('a column', 'close'));
  }

  settings(): Settings {
    const options = this.readOptions();
    let window: Window | undefined;
    let back: Stretch | undefined;
    for (const parameter of this.entry.parameters) {
      const node = this.byParameter.get(parameter);
      if (parameter.kind === 'window') {
        if (node) window = this.readWindow(node, options);
        else if (parameter.required) this.missing('a window', '20 bars');
      } else if (parameter.kind === 'back') {
        back = node ? this.readBack(node) : { bars: parameter.default };
      }
    }
    return { window, back, ...options };
  }

  private missing(what: string, example: string): never {
    return fail(`\`${this.entry.name}\` needs ${what}, such as \`${example}\``, {
      start: this.call.end - 1,
      end: this.call.end,
    });
  }

  private readOptions(): Omit<Settings, 'window' | 'back'> {
    const { entry } = this;
    const numbers: Record<string, number> = {};
    const words: Record<string, string> = {};
    const stretches: Record<string, Stretch> = {};
    for (const option of this.call.options) {
      const { name, nameAt, value } = option;
      const rule = entry.options[name] as OptionRule | undefined;
      if (!rule) {
        const names = Object.keys(entry.options);
        return fail(
          `\`${entry.name}\` has no option \`${name}\`; ${names.length > 0 ? `it takes ${names.join(', ')}` : 'it takes none'}`,
          nameAt,
        );
      }
      if (name in numbers || name in words || name in stretches) fail(`\`${name}\` is given twice`, nameAt);
      if (rule.kind === 'word') words[name] = this.readWord(option, rule.words);
      else if (rule.kind === 'stretch') stretches[name] = this.readStretch(value, `\`${name}\``);
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
    if (node.kind === 'number')
      return fail(
        `\`${this.entry.name}\` needs to know of what: write \`${node.value} bars\` or \`${node.value} minutes\``,
        node,
      );
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

  private readBack(node: Node): Stretch {
    if (node.kind !== 'number') return this.readStretch(node, `\`${this.entry.name}\``, 0);
    if (Number.isInteger(node.value)) return { bars: node.value };
    return fail(`rows are counted in whole numbers, got \`${this.written(node)}\``, node);
  }

  private readStretch(node: Node, owner: string, least = 1): Stretch {
    if (node.kind !== 'quantity')
      return fail(`${owner} takes a length such as \`20 bars\` or \`30 minutes\`, got \`${this.written(node)}\``, node);
    const { amount, unit, unitAt } = node;
    const singular = unit.toLowerCase().replace(/s$/, '');
    if (singular === 'bar') {
      if (least === 1 && owner === '`halflife`' ? amount > 0 : Number.isInteger(amount) && amount >= least)
        return { bars: amount };
      return fail(`bars are counted in whole numbers from ${least}, got ${amount}`, node);
    }
    const size = TIME_UNITS[singular] as number | undefined;
    if (size === undefined)
      return fail(`\`${unit}\` is no unit of length: bars, seconds, minutes, hours, days or weeks`, unitAt);
    const micros = Math.round(amount * size);
    return micros > 0 ? { micros } : fail('a stretch of time is above 0', node);
  }

  private written({ start, end }: Span): string {
    return this.text.slice(start, end);
  }
}

/** The unit of a result; where two units do not go together it is a plain number. */
function unitOf(operator: BinaryOperator, left: Unit, right: Unit): Unit {
  switch (operator) {
    case '+':
    case '-':
      return left === right || right === 'number' ? left : left === 'number' ? right : 'number';
    case '*':
      if ((left === 'price' && right === 'units') || (left === 'units' && right === 'price')) return 'value';
      return right === 'number' || right === 'fraction' || right === 'truth'
        ? left
        : left === 'number' || left === 'fraction' || left === 'truth'
          ? right
          : 'number';
    case '/':
      if (left === 'value' && right === 'units') return 'price';
      return right === 'number' ? left : 'number';
    default:
      return 'truth';
  }
}
