import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import type { Part } from '../catalogue/functionEntry.js';
import type { Unit } from '../catalogue/units.js';
import type { Reach } from '../windows/window.js';
import type { Checked } from './checked.js';
import { aheadOf, requireAlone } from './ahead.js';
import { check } from './checker.js';
import { fanMembers } from './fan.js';
import { parseEntry } from './parser.js';
import { printFormula } from './print.js';
import { reachOf } from './reach.js';
import { splitEntry } from './splitEntry.js';
import { childrenOf, fail, FormulaError, namesIn, type EntryNode, type Node, type Span } from './tree.js';

/** One column to be: what an entry, or a member of its fan, says, with every name looked up. */
export interface Plan {
  /** Which of the entries it comes from. */
  entryIndex: number;
  name: string;
  /** Label of the fan's member, empty where there is no fan. */
  member: string;
  tree: Checked;
  /** Several values, where the formula is a function with such; the first is the entry's own. */
  parts: readonly Part[];
  unit: Unit;
  looksAhead: boolean;
  /** Bars that its values stand later than the rows they are given on: those of a projection are of bars to come. */
  ahead: number;
  /** In words: `mean of close over 20 bars`. */
  phrase: string;
  /** Names of the entries it uses. */
  uses: string[];
  /** Other tapes that it reads, or that entries it uses read. */
  tapes: string[];
  /** Rows about its own that a value is made of, through the entries it uses; undefined where that may be any. */
  reach: Reach | undefined;
  /** Equal for equal formulas over equal formulas: what a cache of columns goes by. Of fixed length. */
  key: string;
}

/** Names that formulas may use: of the frame's columns, and of the columns of other tapes. */
/** Columns by further names, such as what a file calls them. */
export type Aliases = ReadonlyMap<string, string>;

export interface KnownNames {
  columns: Iterable<string>;
  /** Text columns, by which `each` may group. */
  texts?: Iterable<string>;
  /** The words of text columns. */
  words?: ReadonlyMap<string, readonly string[]>;
  others?: ReadonlyMap<string, ReadonlySet<string>>;
  /** Further names of columns; an entry of such a name comes before. */
  aliases?: Aliases;
  /** Those of other tapes. */
  otherAliases?: ReadonlyMap<string, Aliases>;
  /** The name of the tape itself. */
  self?: string;
  /** Whether the rows have no dates, so that nothing may go by clock or calendar. */
  undated?: boolean;
}

/** What became of some entries. */
export interface Planned {
  /** A plan a column, each after the ones it uses. */
  plans: Plan[];
  /** What is wrong with the entries that cannot be used, by their place; the first to be found comes first. */
  errors: Map<number, FormulaError>;
}

/**
 * Reads and checks entries; they may use each other in any order.
 * @returns a plan a column, each after the ones it uses
 * @throws {FormulaError} with the entry, the place in it and what would be right
 */
export function planEntries(entries: readonly string[], names: KnownNames): Plan[] {
  const { plans, errors } = planEach(entries, names);
  for (const error of errors.values()) throw error;
  return plans;
}

/** As `planEntries`, but an entry that cannot be used is told of and does not keep the others from being planned. */
export function planEach(entries: readonly string[], names: KnownNames): Planned {
  return new Planner(entries, names).planAll();
}

interface ParsedEntry extends EntryNode {
  text: string;
  name: string;
}

/** Plans the entries in the order of their use, so that each finds the ones it needs. */
class Planner {
  private readonly parsed: (ParsedEntry | undefined)[] = [];
  private readonly byName = new Map<string, number>();
  private readonly planned = new Map<number, Plan[]>();
  private readonly errors = new Map<number, FormulaError>();
  /** Entries that are being planned, each used by the one before. */
  private readonly underWay: number[] = [];
  private entryNames: string[] | undefined;

  private readonly columns: ReadonlySet<string>;
  private readonly texts: ReadonlySet<string>;

  constructor(
    entries: readonly string[],
    private readonly names: KnownNames,
  ) {
    const columns = (this.columns = new Set(names.columns));
    const texts = (this.texts = new Set(names.texts));
    entries.forEach((text, index) => {
      const { name: named } = splitEntry(text);
      const isRead = this.attempt(index, text, () => {
        const { name = text.trim(), expression } = parseEntry(text);
        if (names.undated) refuseDates(expression);
        if (this.byName.has(name))
          throw new FormulaError(`\`${name}\` is the name of an entry above; choose another`, 0, name.length);
        if (columns.has(name) || texts.has(name))
          throw new FormulaError(`\`${name}\` is a column of the bars; choose another name`, 0, name.length);
        this.byName.set(name, index);
        this.parsed[index] = { name, expression, text };
        return true;
      });
      // those that use it are told that it is the one to be mended
      if (!isRead && named && !this.byName.has(named)) this.byName.set(named, index);
    });
  }

  planAll(): Planned {
    for (const index of this.inOrderOfUse()) this.plan(index);
    return { plans: [...this.planned.values()].flat(), errors: this.errors };
  }

  /**
   * Entries after the ones that they seem to use, found without recursion: a chain of a thousand would take more stack than
   * there is. A name may stand for something else where it is used, so this is a hint; the checker finds real circles.
   */
  private inOrderOfUse(): Set<number> {
    const order = new Set<number>();
    const seen = new Set<number>();
    for (const first of this.parsed.keys()) {
      const stack = [{ index: first, isEntered: false }];
      while (stack.length > 0) {
        const { index, isEntered } = stack.pop()!;
        if (isEntered) order.add(index);
        if (isEntered || seen.has(index)) continue;
        seen.add(index);
        stack.push({ index, isEntered: true });
        const names = this.parsed[index] ? namesIn(this.parsed[index].expression) : [];
        for (const name of names) {
          const used = this.byName.get(name);
          if (used !== undefined && !seen.has(used)) stack.push({ index: used, isEntered: false });
        }
      }
    }
    return order;
  }

  /** The plans of an entry; undefined where it cannot be used. */
  private plan(index: number): Plan[] | undefined {
    const known = this.planned.get(index);
    const entry = this.parsed[index];
    if (known || !entry || this.errors.has(index)) return known;
    this.underWay.push(index);
    const plans = this.attempt(index, entry.text, () =>
      fanMembers(entry.expression).map(({ label, expression: member }) => this.planMember(index, entry, label, member)),
    );
    this.underWay.pop();
    if (plans) this.planned.set(index, plans);
    return plans;
  }

  private planMember(entryIndex: number, { name, text }: ParsedEntry, member: string, expression: Node): Plan {
    requireAlone(expression);
    const uses = new Map<string, Plan>();
    const tapes = new Set<string>();
    const tree = check(
      expression,
      {
        columns: this.columns,
        texts: this.texts,
        words: this.names.words,
        others: this.names.others,
        aliases: this.names.aliases,
        otherAliases: this.names.otherAliases,
        self: this.names.self,
        entryNames: (this.entryNames ??= [...this.byName.keys()]),
        noteTape: (tape) => tapes.add(tape),
        entry: (used, at) => {
          const index = this.byName.get(used);
          // a word alone is an entry without a name, which goes by its text: it does not mean itself
          const isItself = index === entryIndex && name === text.trim();
          if (index === undefined || isItself) return undefined;
          const plan = uses.get(used) ?? this.use(index, used, at);
          if (plan.ahead > 0) fail(`\`${used}\` is a projection: it is of bars to come and goes into no formula`, at);
          uses.set(used, plan);
          for (const tape of plan.tapes) tapes.add(tape);
          return plan;
        },
      },
      text,
    );
    const { unit, looksAhead, phrase } = tree;
    return {
      entryIndex,
      name: member ? `${name}[${member}]` : name,
      member,
      tree,
      parts: tree.kind === 'call' ? (tree.entry.parts ?? []) : [],
      unit,
      looksAhead,
      ahead: aheadOf(tree),
      phrase,
      uses: [...uses.keys()],
      tapes: [...tapes],
      reach: reachOf(tree, (used) => uses.get(used)!.reach),
      key: keyOf(expression, uses),
    };
  }

  private use(index: number, name: string, at: Span): Plan {
    const length = at.end - at.start;
    if (this.underWay.includes(index)) {
      const circle = [...this.underWay.slice(this.underWay.indexOf(index)), index].map((i) => this.parsed[i]!.name);
      throw new FormulaError(`entries go in a circle: ${circle.join(' uses ')}`, at.start, length);
    }
    const plans = this.plan(index);
    if (!plans) throw new FormulaError(`\`${name}\` cannot be used: see what is wrong with it`, at.start, length);
    const [first, ...more] = plans;
    if (more.length > 0)
      throw new FormulaError(`\`${name}\` is a fan of several lines; use an entry with one`, at.start, length);
    return first;
  }

  /** Does some work on an entry. What is wrong with it is noted, with the entry that it is in. */
  private attempt<Result>(index: number, text: string, work: () => Result): Result | undefined {
    try {
      return work();
    } catch (error) {
      if (!(error instanceof FormulaError)) throw error;
      error.entryIndex = index;
      error.entry = text;
      this.errors.set(index, error);
      return undefined;
    }
  }
}

/** A hash of a formula and of those it uses; written out, the keys of a chain of entries would double with each. */
function keyOf(expression: Node, uses: ReadonlyMap<string, Plan>): string {
  const used = [...uses].map(([name, { key }]) => `${name} ${key}`);
  return bytesToHex(sha256(utf8ToBytes([printFormula(expression), ...used].join('\n')))).slice(0, 32);
}

/** @throws {FormulaError} at whatever goes by clock or calendar, for rows that are only numbered */
function refuseDates(node: Node): void {
  const says = 'needs dates; these records have period numbers alone, so count rows, as in `20 bars`';
  if (node.kind === 'quantity' && !/^bars?$/i.test(node.unit)) fail(`\`${node.amount} ${node.unit}\` ${says}`, node);
  if (node.kind === 'list') {
    if (node.unit && !/^bars?$/i.test(node.unit)) fail(`a list of ${node.unit} ${says}`, node);
    node.items.forEach(refuseDates);
  }
  if (node.kind === 'this') fail(`\`this ${node.period}\` ${says}`, node);
  if (node.kind === 'on') fail(`\`on\` ${says}`, node.ruleAt);
  if (node.kind === 'call')
    for (const { name, value } of node.options)
      if (name === 'each' && value.kind === 'name' && ['session', 'day', 'week'].includes(value.name))
        fail(`\`each: ${value.name}\` ${says}`, value);
  childrenOf(node).forEach(refuseDates);
}
