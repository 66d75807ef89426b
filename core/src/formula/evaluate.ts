import type { BarInterval } from '../windows/shortStart.js';
import type { Course } from '../catalogue/functionEntry.js';
import type { Checked } from './checked.js';
import { Computer } from './compute.js';
import { namesOf, type Column, type Frame } from './frame.js';
import { planEntries, type Plan } from './plan.js';

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

  /** How far apart its rows follow each other. */
  get interval(): BarInterval | undefined {
    return this.computer.rows.interval();
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
        ahead: plan.ahead,
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

  /** Takes a column for computed, of this work or an earlier one; it may have been another entry's of the same formula. */
  keep({ name, parts }: Plan, { part, values }: Pick<Column, 'part' | 'values'>): void {
    this.done.set(part === '' ? name : `${name}.${part}`, values);
    if (part === '' && parts.length > 0) this.done.set(`${name}.${parts[0].name}`, values);
  }
}

function firstValid(values: Float64Array): number {
  const row = values.findIndex((value) => !Number.isNaN(value));
  return row < 0 ? values.length : row;
}
