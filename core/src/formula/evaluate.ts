import { makeCalendar } from '../time/calendar.js';
import type { Unit } from '../catalogue/functionEntry.js';
import type { RowTimes } from '../windows/window.js';
import { applyBinary, applyUnary, type Operand } from './arithmetic.js';
import { check, type Checked } from './checker.js';
import { fanMembers } from './fan.js';
import type { Column, Frame } from './frame.js';
import { parseEntry } from './parser.js';
import { FormulaError, type EntryNode, type Node, type Span } from './tree.js';

/** One column to be: what an entry, or a member of its fan, says, with every name looked up. */
export interface Plan {
  /** Which of the entries it comes from. */
  entryIndex: number;
  name: string;
  /** Label of the fan's member, empty where there is no fan. */
  member: string;
  tree: Checked;
  unit: Unit;
  looksAhead: boolean;
  /** In words: `mean of close over 20 bars`. */
  phrase: string;
  /** Names of the entries it uses. */
  uses: string[];
  /** Equal for equal formulas over equal formulas: what a cache of columns goes by. */
  key: string;
}

/**
 * Reads and checks entries; they may use each other in any order.
 * @param columns  names of the frame's columns
 * @returns        a plan a column, each after the ones it uses
 * @throws {FormulaError} with the entry, the place in it and what would be right
 */
export function planEntries(entries: readonly string[], columns: Iterable<string>): Plan[] {
  return new Planner(entries, new Set(columns)).plans();
}

/**
 * Evaluates formulas on a frame.
 * @param entries  `name = formula` or a formula alone, which is then its own name
 * @returns        a column an entry, in their order; a fan gives one a member
 * @throws {FormulaError} with the entry, the place in it and what would be right
 */
export function evaluate(entries: readonly string[], frame: Frame): Column[] {
  const done = new Map<string, Float64Array>();
  const plans = planEntries(entries, Object.keys(frame.columns));
  const columns = plans.map((plan) => ({ plan, column: computePlan(plan, frame, done) }));
  return columns.sort((a, b) => a.plan.entryIndex - b.plan.entryIndex).map(({ column }) => column);
}

/**
 * Computes one plan.
 * @param done  columns of the plans before it, by name; this one is put among them
 */
export function computePlan(plan: Plan, frame: Frame, done: Map<string, Float64Array>): Column {
  const rows: RowTimes = { time: frame.time, calendar: frame.calendar ?? makeCalendar({ zone: 'UTC' }) };
  const result = compute(plan.tree, frame, rows, done);
  const values = typeof result === 'number' ? new Float64Array(frame.time.length).fill(result) : result;
  done.set(plan.name, values);
  return { name: plan.name, values, looksAhead: plan.looksAhead, firstValid: firstValid(values) };
}

function firstValid(values: Float64Array): number {
  const row = values.findIndex((value) => !Number.isNaN(value));
  return row < 0 ? values.length : row;
}

function compute(tree: Checked, frame: Frame, rows: RowTimes, done: ReadonlyMap<string, Float64Array>): Operand {
  const inner = (child: Checked) => compute(child, frame, rows, done);
  switch (tree.kind) {
    case 'number':
      return tree.value;
    case 'column':
      return frame.columns[tree.name];
    case 'entry':
      return done.get(tree.name)!;
    case 'unary':
      return applyUnary(tree.operator, inner(tree.operand));
    case 'binary':
      return applyBinary(tree.operator, inner(tree.left), inner(tree.right));
    case 'call': {
      const columns = tree.columns
        .map(inner)
        .map((x) => (typeof x === 'number' ? new Float64Array(rows.time.length).fill(x) : x));
      return tree.entry.compute(columns, tree.settings, rows);
    }
  }
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
  ) {
    entries.forEach((text, index) =>
      this.within(index, text, () => {
        const { name = text.trim(), expression } = parseEntry(text);
        if (this.byName.has(name))
          throw new FormulaError(`\`${name}\` is the name of an entry above; choose another`, 0, name.length);
        if (columns.has(name))
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
    const tree = check(
      expression,
      {
        columns: this.columns,
        entryNames: [...this.byName.keys()],
        entry: (used, at) => {
          const index = this.byName.get(used);
          if (index === undefined) return undefined;
          uses.add(used);
          return this.use(index, at);
        },
      },
      text,
    );
    const { unit, looksAhead, phrase } = tree;
    const keys = [...uses].map((used) => `${used}: ${this.planned.get(this.byName.get(used)!)![0].key}`);
    const whole = this.parsed[entryIndex].expression;
    const key = JSON.stringify([text.slice(whole.start, whole.end), member, keys]);
    return {
      entryIndex,
      name: member ? `${name}[${member}]` : name,
      member,
      tree,
      unit,
      looksAhead,
      phrase,
      uses: [...uses],
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
