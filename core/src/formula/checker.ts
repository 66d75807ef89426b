import type { BarRule } from '../bars/barKind.js';
import { BarRuleError, parseBarRule, printBarRule } from '../bars/barRule.js';
import { catalogue } from '../catalogue/catalogue.js';
import type { FunctionEntry, Part } from '../catalogue/functionEntry.js';
import { unitOfDifference, unitOfProduct, unitOfRatio, unitOfSum, type Unit } from '../catalogue/units.js';
import type { Checked, Group, Scope } from './checked.js';
import { ArgumentReader } from './argumentReader.js';
import { meantBy } from '../catalogue/commonWords.js';
import { nearestWord } from './nearest.js';
import { checkWindowCall, WINDOW_CALL } from './windowCall.js';
import { fail, type BinaryOperator, type Node, type Span } from './tree.js';

const COLUMN_UNITS: ReadonlyMap<string, Unit> = new Map([
  ['open', 'price'],
  ['high', 'price'],
  ['low', 'price'],
  ['close', 'price'],
  ['vwap', 'price'],
  ['volume', 'units'],
  ['value', 'value'],
  ['trades', 'trades'],
]);

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
    case 'text':
      return fail(`a word in quotes is compared with a text column, as in \`${wordExample(scope)}\``, node);
    case 'binary': {
      if (node.left.kind === 'text' || node.right.kind === 'text') return checkWord(node, scope);
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
      return node.name === WINDOW_CALL ? checkWindowCall(node, scope, text, check) : checkCall(node, scope, text);
    case 'part':
      return checkPart(node, scope, text);
    case 'on':
      return checkOn(node, scope, text);
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

/** The function of the catalogue that a common word means. */
const meantFunction = (word: string): string | undefined => {
  const name = meantBy(word);
  return name !== undefined && catalogue.has(name) ? name : undefined;
};

const columnOf = (name: string, phrase: string): Checked => ({
  kind: 'column',
  name,
  unit: COLUMN_UNITS.get(name) ?? 'number',
  looksAhead: false,
  phrase,
});

function checkName(node: Extract<Node, { kind: 'name' }>, scope: Scope): Checked {
  const { name, part } = node;
  if (part !== undefined) return checkDotted(name, part, scope, node);
  const meantColumn = scope.windowNames?.has(name) ? undefined : scope.aliases?.get(name);
  // an entry of an earlier day may have the name
  if (meantColumn !== undefined && !scope.entry(name, node)) return columnOf(meantColumn, name);
  if (scope.windowNames?.has(name) || scope.columns.has(name)) return columnOf(name, name);
  if (scope.texts?.has(name))
    return fail(
      `\`${name}\` is a text column; it tells groups, as in \`mean(close, 20 bars, each: ${name})\`, or is compared, as in \`${wordExample(scope, name)}\``,
      node,
    );
  const entry = scope.entry(name, node);
  if (entry) return { kind: 'entry', name, unit: entry.unit, looksAhead: entry.looksAhead, phrase: name };
  const known = catalogue.get(name);
  if (known)
    return known.parameters.length === 0
      ? checkCall({ ...node, kind: 'call', name, nameAt: node, args: [], options: [] }, scope, name)
      : fail(`\`${name}\` is a function; it needs arguments, as in \`${known.example}\``, node);
  const meant =
    meantFunction(name) ??
    nearestWord(name, [...scope.columns, ...(scope.aliases?.keys() ?? []), ...scope.entryNames, ...catalogue.keys()]);
  const usual = [...scope.columns].filter((column) => COLUMN_UNITS.has(column));
  const columns = usual.length > 0 ? usual : [...scope.columns];
  return fail(
    `no column or entry is called \`${name}\`; ${meant ? `did you mean \`${meant}\`?` : `there are ${columns.join(', ')}`}`,
    node,
  );
}

/** A comparison with a word, of the column and with a word that there are. */
function wordExample({ texts, words }: Scope, column = [...(texts ?? [])][0] ?? 'venue'): string {
  return `${column} == "${words?.get(column)?.find((word) => word !== '') ?? 'quay'}"`;
}

/** `venue == "quay"`. */
function checkWord(node: Extract<Node, { kind: 'binary' }>, scope: Scope): Checked {
  const { left, right, operator } = node;
  const [column, word] = left.kind === 'text' ? [right, left] : [left, right];
  if (word.kind !== 'text' || column.kind !== 'name' || column.part !== undefined || !scope.texts?.has(column.name))
    return fail(`a word in quotes is compared with a text column, as in \`${wordExample(scope)}\``, node);
  if (operator !== '==' && operator !== '!=') return fail('words are compared with `==` and `!=`', node);
  const words = scope.words?.get(column.name);
  if (words && !words.includes(word.text)) {
    const meant = words.find((one) => one.toLowerCase() === word.text.toLowerCase()) ?? nearestWord(word.text, words);
    const known = words.slice(0, 8).join(', ');
    return fail(
      `\`${column.name}\` never says \`${word.text}\`; ${meant ? `did you mean \`${meant}\`?` : `it says ${known}`}`,
      word,
    );
  }
  const isOther = operator === '!=';
  const phrase = `${column.name} ${isOther ? 'is not' : 'is'} ${word.text}`;
  return { kind: 'word', column: column.name, word: word.text, isOther, unit: 'truth', looksAhead: false, phrase };
}

/** `b.upper`, a value of an entry with several, or `SALT.close`, a column of another tape. */
function checkDotted(name: string, part: string, scope: Scope, at: Span): Checked {
  // a tape may name itself, so that the formula holds on another one too
  if (name === scope.self && (scope.columns.has(part) || scope.aliases?.has(part)))
    return checkName({ kind: 'name', name: part, start: at.start, end: at.end }, scope);
  const other = scope.others?.get(name);
  if (other) {
    const column = scope.otherAliases?.get(name)?.get(part) ?? part;
    if (!other.has(column)) return fail(`\`${name}\` has no column \`${part}\`; it has ${[...other].join(', ')}`, at);
    scope.noteTape?.(name);
    const unit = COLUMN_UNITS.get(column) ?? 'number';
    return { kind: 'other', tape: name, column, unit, looksAhead: false, phrase: `${part} of ${name}` };
  }
  const entry = scope.columns.has(name) ? undefined : scope.entry(name, at);
  if (!entry) {
    const tapes = [...(scope.self === undefined ? [] : [scope.self]), ...(scope.others?.keys() ?? [])];
    const meant = nearestWord(name, [...tapes, ...scope.entryNames]);
    const known = tapes.length > 0 ? `; the tapes are ${tapes.slice(0, 8).join(', ')}` : '';
    return fail(`no entry and no tape is called \`${name}\`${meant ? `; did you mean \`${meant}\`?` : known}`, at);
  }
  const { unit, looksAhead, parts = [] } = entry;
  const found = parts.find((one) => one.name === part);
  if (!found) return failPart(name, part, parts, at);
  return { kind: 'entry', name, part, unit: found.unit ?? unit, looksAhead, phrase: `${part} of ${name}` };
}

function checkPart({ call, part, partAt }: Extract<Node, { kind: 'part' }>, scope: Scope, text: string): Checked {
  const checked = check(call, scope, text);
  const { unit, looksAhead, phrase } = checked;
  const parts = checked.kind === 'call' ? (checked.entry.parts ?? []) : [];
  const index = parts.findIndex((one) => one.name === part);
  if (index < 0) return failPart(text.slice(call.start, call.end), part, parts, partAt);
  return {
    kind: 'part',
    call: checked,
    index,
    unit: parts[index].unit ?? unit,
    looksAhead,
    phrase: `${part} of ${phrase}`,
  };
}

function failPart(name: string, part: string, parts: readonly Part[], at: Span): never {
  const names = parts.map((one) => one.name).join(', ');
  return fail(`\`${name}\` has no part \`${part}\`; ${names ? `its parts are ${names}` : 'it is one value'}`, at);
}

function checkOn(node: Extract<Node, { kind: 'on' }>, scope: Scope, text: string): Checked {
  const { operand: inner, forming, ruleAt } = node;
  let rule: BarRule;
  try {
    rule = parseBarRule(node.rule);
  } catch (error) {
    if (!(error instanceof BarRuleError)) throw error;
    return fail(error.message, ruleAt);
  }
  const { side, price, empty, take, takes, adjusted } = rule;
  const isOfRecords = take !== 'last' || Object.keys(takes).length > 0 || adjusted !== undefined;
  if (side || price !== 'mid' || empty !== 'skip' || isOfRecords)
    return fail('bars made of bars take `all hours` and `restart: day` only', ruleAt);
  const operand = check(inner, scope, text);
  const looksAhead = operand.looksAhead || forming;
  const bars = `${printBarRule(rule)} bars${forming ? ', the forming one included' : ''}`;
  return { kind: 'on', operand, rule, forming, unit: operand.unit, looksAhead, phrase: `${operand.phrase} on ${bars}` };
}

function checkCall(node: Extract<Node, { kind: 'call' }>, scope: Scope, text: string): Checked {
  const entry = catalogue.get(node.name);
  if (!entry) {
    const meant = meantFunction(node.name) ?? nearestWord(node.name, [...catalogue.keys(), WINDOW_CALL]);
    return fail(
      `no function is called \`${node.name}\`; ${meant ? `did you mean \`${meant}\`?` : `there are ${[...catalogue.keys()].join(', ')}`}`,
      node.nameAt,
    );
  }
  const reader = new ArgumentReader(entry, node, text, scope.windowNames !== undefined);
  const columns = reader.columnNodes().map((argument) => check(argument, scope, text));
  for (const name of entry.reads ?? []) {
    if (!scope.columns.has(name))
      return fail(`\`${entry.name}\` reads the column \`${name}\`, which is not there`, node);
    columns.push(checkName({ kind: 'name', name, start: node.start, end: node.end }, scope));
  }
  const settings = reader.settings();
  const wrong = entry.refuse?.(settings);
  if (wrong) return fail(wrong, node);
  const each = checkGroup(node, entry, scope, text);
  const said = entry.phrase(
    columns.map((column) => column.phrase),
    settings,
  );
  const phrase = reader.takesAll ? said.replace(/ over all rows so far$/, '') : said;
  return {
    kind: 'call',
    entry,
    columns,
    settings,
    each,
    isWhole: reader.takesAll,
    unit: entry.unit(columns.map((column) => column.unit)),
    looksAhead: columns.some((column) => column.looksAhead) || (entry.looksAhead?.(settings) ?? false),
    phrase: each ? `${phrase}, each ${groupPhrase(each)} by itself` : phrase,
  };
}

function groupPhrase(group: Group): string {
  if (group.by === 'column') return group.column.phrase;
  return group.by === 'text' ? group.name : group.by;
}

/** `each: session`, or `each:` a column whose words or values tell the groups. */
function checkGroup(
  node: Extract<Node, { kind: 'call' }>,
  entry: FunctionEntry,
  scope: Scope,
  text: string,
): Group | undefined {
  const options = node.options.filter(({ name }) => name === 'each');
  if (options.length === 0) return undefined;
  const [{ nameAt, value }] = options;
  if (options.length > 1) return fail('`each` is given twice', options[1].nameAt);
  if (entry.rowwise) return fail(`\`${entry.name}\` takes each row by itself; leave \`each\` out`, nameAt);
  if (value.kind !== 'name')
    return fail(`\`each\` takes ${['session', 'day', 'week', ...(scope.texts ?? [])].join(', ')} or a column`, value);
  const { name } = value;
  if (name === 'session' || name === 'day' || name === 'week') return { by: name };
  if (scope.texts?.has(name) && value.part === undefined) return { by: 'text', name };
  return { by: 'column', column: check(value, scope, text) };
}

/** The unit of a result. */
function unitOf(operator: BinaryOperator, left: Unit, right: Unit): Unit {
  switch (operator) {
    case '+':
      return unitOfSum(left, right);
    case '-':
      return unitOfDifference(left, right);
    case '*':
      return unitOfProduct(left, right);
    case '/':
      return unitOfRatio(left, right);
    case '^':
      return 'number';
    default:
      return 'truth';
  }
}
