import type { Course, Part, Unit } from '../catalogue/functionEntry.js';
import { check, type Checked } from './checker.js';
import { Computer } from './compute.js';
import { fanMembers } from './fan.js';
import type { Reach } from '../windows/window.js';
import type { Column, Frame } from './frame.js';
import { parseEntry } from './parser.js';
import { printFormula } from './print.js';
import { reachOf } from './reach.js';
import { FormulaError, type EntryNode, type Node, type Span } from './tree.js';

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
  /** In words: `mean of close over 20 bars`. */
  phrase: string;
  /** Names of the entries it uses. */
  uses: string[];
  /** Other tapes that it reads, or that entries it uses read. */
  tapes: string[];
  /** Rows about its own that a value is made of, through the entries it uses; undefined where that may be any. */
  reach: Reach | undefined;
  /** Equal for equal formulas over equal formulas: what a cache of columns goes by. */
  key: string;
}

/** Names that formulas may use: of the frame's columns, and of the columns of other tapes. */
export interface KnownNames {
  columns: Iterable<string>;
  /** Text columns, by which `each` may group. */
  texts?: Iterable<string>;
  others?: ReadonlyMap<string, ReadonlySet<string>>;
}

/**
 * Reads and checks entries; they may use each other in any order.
 * @returns a plan a column, each after the ones it uses
 * @throws {FormulaError} with the entry, the place in it and what would be right
 */
export function planEntries(entries: readonly string[], names: KnownNames): Plan[] {
  return new Planner(entries, new Set(names.columns), new Set(names.texts), names.others).plans();
}

/** The names that formulas on a frame may use. */
export const namesOf = ({ columns, texts = {}, others = {} }: Frame): KnownNames => ({
  columns: Object.keys(columns),
  texts: Object.keys(texts),
  others: new Map(Object.entries(others).map(([name, other]) => [name, new Set(Object.keys(other.columns))])),
});

/**
 * Evaluates formulas on a frame.
 * @param entries  `name = formula` or a formula alone, which is then its own name
 * @param course   how long work tells of itself, if it should
 * @returns        a column an entry, in their order; a fan gives one a member, a function of several values one a value
 * @throws {FormulaError} with the entry, the place in it and what would be right
 */
export function evaluate(entries: readonly string[], frame: Frame, course?: Course): Column[] {
  const plans = planEntries(entries, namesOf(frame));
  const work = new Work(frame, plans, course);
  const columns = plans.flatMap((plan) => work.compute(plan).map((column) => ({ plan, column })));
  return columns.sort((a, b) => a.plan.entryIndex - b.plan.entryIndex).map(({ column }) => column);
}

/** Computes plans, each after the ones it uses. */
export class Work {
  private readonly done = new Map<string, Float64Array>();
  private readonly computer: Computer;

  /** @param course  told of each long plan; and who helps with it */
  constructor(frame: Frame, plans: readonly Plan[], course?: Course) {
    const trees = new Map(plans.map(({ name, tree }) => [name, tree]));
    const entries = { get: (name: string) => this.done.get(name), treeOf: (name: string) => trees.get(name) };
    this.computer = new Computer(frame, entries, course);
  }

  /**
   * The columns of a plan, its own value first.
   * @throws {FormulaError} where a formula asks for what these rows cannot give
   */
  compute(plan: Plan): Column[] {
    return this.computer.columns(plan.tree).map((values, index) => {
      const part = plan.parts[index]?.name ?? '';
      const column: Column = {
        name: index === 0 ? plan.name : `${plan.name}.${part}`,
        part: index === 0 ? '' : part,
        values,
        looksAhead: plan.looksAhead,
        firstValid: firstValid(values),
      };
      this.keep(plan, column);
      return column;
    });
  }

  /** The column of any checked formula on these rows; entries that it uses must be computed or kept. */
  column(tree: Checked): Float64Array {
    return this.computer.column(tree);
  }

  /** Takes a column for computed, of this work or an earlier one. */
  keep(plan: Plan, { name, part, values }: Column): void {
    this.done.set(name, values);
    if (part === '' && plan.parts.length > 0) this.done.set(`${name}.${plan.parts[0].name}`, values);
  }
}

function firstValid(values: Float64Array): number {
  const row = values.findIndex((value) => !Number.isNaN(value));
  return row < 0 ? values.length : row;
}

/** Walks the entries in the order of their use, so that each finds the ones it needs. */
class Planner {
  private readonly parsed: (EntryNode & { text: string; name: string })[] = [];
  private readonly byName = new Map<string, number>();
  private readonly planned = new Map<number, Plan[]>();
  private readonly underWay: number[] = [];

  constructor(
    entries: readonly string[],
    private readonly columns: ReadonlySet<string>,
    private readonly texts: ReadonlySet<string>,
    private readonly others: ReadonlyMap<string, ReadonlySet<string>> | undefined,
  ) {
    entries.forEach((text, index) =>
      this.within(index, text, () => {
        const { name = text.trim(), expression } = parseEntry(text);
        if (this.byName.has(name))
          throw new FormulaError(`\`${name}\` is the name of an entry above; choose another`, 0, name.length);
        if (columns.has(name) || texts.has(name))
          throw new FormulaError(`\`${name}\` is a column of the bars; choose another name`, 0, name.length);
        this.byName.set(name, index);
        this.parsed.push({ name, expression, text });
      }),
    );
  }

  plans(): Plan[] {
    this.parsed.forEach((_, index) => this.plan(index));
    return [...this.planned.values()].flat();
  }

  private plan(index: number): Plan[] {
    const known = this.planned.get(index);
    if (known) return known;
    const { name, expression, text } = this.parsed[index];
    this.underWay.push(index);
    const plans = this.within(index, text, () =>
      fanMembers(expression).map(({ label, expression: member }) => this.planMember(index, name, label, member)),
    );
    this.underWay.pop();
    this.planned.set(index, plans);
    return plans;
  }

  private planMember(entryIndex: number, name: string, member: string, expression: Node): Plan {
    const { text } = this.parsed[entryIndex];
    const uses = new Set<string>();
    const tapes = new Set<string>();
    const tree = check(
      expression,
      {
        columns: this.columns,
        texts: this.texts,
        others: this.others,
        entryNames: [...this.byName.keys()],
        noteTape: (tape) => tapes.add(tape),
        entry: (used, at) => {
          const index = this.byName.get(used);
          if (index === undefined) return undefined;
          uses.add(used);
          const plan = this.use(index, at);
          for (const tape of plan.tapes) tapes.add(tape);
          return plan;
        },
      },
      text,
    );
    const { unit, looksAhead, phrase } = tree;
    const keys = [...uses].map((used) => `${used}: ${this.planned.get(this.byName.get(used)!)![0].key}`);
    const key = JSON.stringify([printFormula(expression), keys]);
    return {
      entryIndex,
      name: member ? `${name}[${member}]` : name,
      member,
      tree,
      parts: tree.kind === 'call' ? (tree.entry.parts ?? []) : [],
      unit,
      looksAhead,
      phrase,
      uses: [...uses],
      tapes: [...tapes],
      reach: reachOf(tree, (used) => this.planned.get(this.byName.get(used)!)![0].reach),
      key,
    };
  }

  private use(index: number, at: Span): Plan {
    if (this.underWay.includes(index)) {
      const circle = [...this.underWay.slice(this.underWay.indexOf(index)), index].map((i) => this.parsed[i].name);
      throw new FormulaError(`entries go in a circle: ${circle.join(' uses ')}`, at.start, at.end - at.start);
    }
    const [first, ...more] = this.plan(index);
    if (more.length > 0)
      throw new FormulaError(
        `\`${this.parsed[index].name}\` is a fan of several lines; use an entry with one`,
        at.start,
        at.end - at.start,
      );
    return first;
  }

  /** Says of an error which entry it is in, unless an entry further in has said so already. */
  private within<Result>(index: number, text: string, read: () => Result): Result {
    try {
      return read();
    } catch (error) {
      if (error instanceof FormulaError && error.entry === '') {
        error.entryIndex = index;
        error.entry = text;
      }
      throw error;
    }
  }
}
