import { DAY, SECOND } from '../time/instant.js';
import { PERIOD_UNITS, type PeriodUnit } from '../time/periods.js';
import { isTimed, TAKES, type BarKind, type BarRule, type RunningUnit, type Side } from './barKind.js';
import { printKind } from './phrase.js';
import { INTERVAL_UNITS } from './timedKinds.js';

/** A bar rule that cannot be read. `position` counts characters from 0. */
export class BarRuleError extends Error {
  override readonly name = 'BarRuleError';
  constructor(
    message: string,
    readonly position: number,
  ) {
    super(message);
  }
}

const RUNNING_UNITS: ReadonlyMap<string, RunningUnit> = new Map([
  ['trade', 'trades'],
  ['trades', 'trades'],
  // what single values are called
  ['record', 'trades'],
  ['records', 'trades'],
  ['units', 'units'],
  ['unit', 'units'],
  ['value', 'value'],
]);
/** What a rule is without any option. */
const PLAIN = { empty: 'skip', allHours: false, restart: 'never', price: 'mid', take: 'last', takes: {} } as const;

const KINDS = 'such as `5 minutes`, `1 day`, `500 trades`, `10000 units`, `250000 value` or `range 0.25`';
const OPTIONS =
  '`empty: skip|carry|blank`, `all hours`, `restart: day`, `side: buy|sell`, `price: mid|bid|ask`, `take: first|sum|mean`, `take COLUMN: first|sum|mean` or `adjusted: COLUMN`';

interface Word {
  text: string;
  position: number;
}

/**
 * Reads a bar rule such as `15 minutes, empty: carry`.
 * @throws {BarRuleError} with the position and what would be right
 */
export function parseBarRule(text: string): BarRule {
  const [kindPart, ...optionParts] = splitAtCommas(text);
  const kind = parseKind(words(kindPart.text, kindPart.position), text.length);
  const rule: BarRule = { ...PLAIN, kind };
  const given = new Set<string>();
  for (const part of optionParts) {
    const name = applyOption(rule, words(part.text, part.position), part.position);
    if (given.has(name)) throw new BarRuleError(`\`${name}\` is given twice; leave one out`, part.position);
    given.add(name);
  }
  return rule;
}

/** The rule in its one canonical form: `parseBarRule(printBarRule(rule))` is the rule again. */
export function printBarRule(rule: BarRule): string {
  const parts = [printKind(rule.kind)];
  if (rule.empty !== 'skip') parts.push(`empty: ${rule.empty}`);
  if (rule.allHours) parts.push('all hours');
  if (rule.restart !== 'never') parts.push(`restart: ${rule.restart}`);
  if (rule.side) parts.push(`side: ${rule.side}`);
  if (rule.price !== 'mid') parts.push(`price: ${rule.price}`);
  if (rule.take !== 'last') parts.push(`take: ${rule.take}`);
  for (const [column, take] of Object.entries(rule.takes)) parts.push(`take ${column}: ${take}`);
  if (rule.adjusted !== undefined) parts.push(`adjusted: ${rule.adjusted}`);
  return parts.join(', ');
}

function parseKind(tokens: Word[], end: number): BarKind {
  const [first, second, more] = tokens;
  if (!first) throw new BarRuleError(`a bar rule is needed, ${KINDS}`, 0);
  if (more)
    throw new BarRuleError(
      `\`${more.text}\` is not expected here; options follow a comma, as in \`5 minutes, all hours\``,
      more.position,
    );
  if (first.text === 'range') {
    if (!second) throw new BarRuleError('`range` needs a height in price, such as `range 0.25`', end);
    return { by: 'range', limit: amount(second, 'a height in price above 0, such as `range 0.25`') };
  }
  const limit = amount(first, `a bar rule starts with a number or \`range\`, ${KINDS}`);
  if (!second) throw new BarRuleError(`\`${first.text}\` needs a unit, ${KINDS}`, end);
  const unit = second.text.toLowerCase();
  const singular = unit.replace(/s$/, '');
  const micros = INTERVAL_UNITS.get(singular);
  if (micros !== undefined) return interval(limit, micros, first);
  if (PERIOD_UNITS.includes(singular as PeriodUnit)) {
    if (limit !== 1)
      throw new BarRuleError(
        `bars of one ${singular} each can be cut, not of ${first.text}; write \`1 ${singular}\``,
        first.position,
      );
    return { by: 'period', unit: singular as PeriodUnit };
  }
  const by = RUNNING_UNITS.get(unit);
  if (by !== undefined) {
    if (by === 'trades' && !Number.isInteger(limit))
      throw new BarRuleError('trades are counted in whole numbers, such as `500 trades`', first.position);
    return { by, limit };
  }
  throw new BarRuleError(
    `\`${second.text}\` is no unit for bars: seconds, minutes, hours, day, week, month, quarter, year, trades, units or value`,
    second.position,
  );
}

function interval(count: number, unitMicros: number, at: Word): BarKind {
  const micros = Math.round(count * unitMicros);
  if (micros % SECOND !== 0 || micros < SECOND)
    throw new BarRuleError('intervals are whole seconds, from `1 second`', at.position);
  if (micros >= DAY)
    throw new BarRuleError('an interval is shorter than a day; write `1 day` for bars of a day', at.position);
  return { by: 'interval', micros };
}

function applyOption(rule: BarRule, tokens: Word[], position: number): string {
  if (tokens[0]?.text === 'take') return applyTakeOf(rule, tokens, position);
  const [name, value, more] = tokens;
  const written = tokens.map((word) => word.text).join(' ');
  const choose = <T extends string>(choices: readonly T[]): T => {
    const chosen = choices.find((choice) => choice === value?.text);
    if (!chosen || more)
      throw new BarRuleError(
        `\`${name.text}\` takes ${choices.map((c) => `\`${c}\``).join(' or ')}, got \`${value?.text ?? ''}\``,
        value?.position ?? position,
      );
    return chosen;
  };
  switch (name?.text) {
    case 'empty:':
      rule.empty = choose(['skip', 'carry', 'blank']);
      break;
    case 'restart:':
      rule.restart = choose(['day']);
      break;
    case 'side:':
      rule.side = choose<Side>(['buy', 'sell']);
      break;
    case 'price:':
      rule.price = choose(['mid', 'bid', 'ask']);
      break;
    case 'take:':
      rule.take = choose(TAKES);
      break;
    case 'adjusted:':
      if (!value || more || !COLUMN.test(value.text))
        throw new BarRuleError('`adjusted` takes the name of the column with adjusted closes', position);
      rule.adjusted = value.text;
      break;
    case 'all':
      if (written !== 'all hours') throw new BarRuleError('write `all hours`', name.position);
      rule.allHours = true;
      return 'all hours';
    default:
      throw new BarRuleError(`after a comma stands an option: ${OPTIONS}`, name?.position ?? position);
  }
  refuseWithoutEffect(rule, name);
  return name.text.slice(0, -1);
}

/** `take open_interest: mean`: what a further column comes to in a bar. */
function applyTakeOf(rule: BarRule, [, column, value, more]: Word[], position: number): string {
  const name = column?.text.replace(/:$/, '') ?? '';
  const take = TAKES.find((one) => one === value?.text);
  if (!column?.text.endsWith(':') || !COLUMN.test(name) || !take || more)
    throw new BarRuleError(
      'write `take`, a column and what its values come to: `take open_interest: first|sum|mean`',
      position,
    );
  // a name may be one that every object has
  const { [name]: _, ...others } = rule.takes;
  rule.takes = take === 'last' ? others : Object.fromEntries([...Object.entries(others), [name, take]]);
  return `take ${name}`;
}

/** An option that would do nothing is a mistake of the writer's, not to be passed over. */
function refuseWithoutEffect(rule: BarRule, name: Word): void {
  const timed = isTimed(rule.kind);
  if (name.text === 'empty:' && !timed)
    throw new BarRuleError('only bars by time can have empty intervals; leave `empty` out', name.position);
  if (name.text === 'restart:' && timed)
    throw new BarRuleError('bars by time start with each day as it is; leave `restart` out', name.position);
}

function amount(word: Word, wanted: string): number {
  const value = /^(\d+\.?\d*|\.\d+)(e\d+)?$/i.test(word.text) ? Number(word.text) : NaN;
  if (!(value > 0) || !Number.isFinite(value)) throw new BarRuleError(`${wanted}, got \`${word.text}\``, word.position);
  return value;
}

const COLUMN = /^[A-Za-z]\w*$/;

function splitAtCommas(text: string): Word[] {
  const parts: Word[] = [];
  let position = 0;
  for (const part of text.split(',')) {
    parts.push({ text: part, position });
    position += part.length + 1;
  }
  return parts;
}

/** Words with their positions; `5min` is two, `empty:carry` too. */
function words(text: string, offset: number): Word[] {
  return [...text.matchAll(/[a-z]\w*:|[\d.]+(?:e\d+)?(?![\d.])|[a-z_]+\w*|[^\s\d:]+|\S/gi)].map((match) => ({
    text: match[0],
    position: offset + match.index,
  }));
}
