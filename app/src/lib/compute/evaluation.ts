import { computePlan, FormulaError, planEntries, type Frame, type Plan } from '@jaunty-ledger/core';
import { summarised } from '$lib/chart/summary';
import type { DrawnColumn, EntryResult, EntryText } from './protocol';

/**
 * Evaluates the entries of a ledger again and again as they change. A column is computed anew only when its formula, or
 * one that it uses, has changed; an entry that cannot be used does not keep the others from being drawn.
 */
export class Evaluation {
  private values = new Map<string, Float64Array>();
  /** By entry: the keys of the columns that were sent last. */
  private sent = new Map<string, string>();

  constructor(private readonly frame: Frame) {}

  evaluate(entries: readonly EntryText[]): EntryResult[] {
    const wrong = new Map<string, EntryResult>();
    const plans = this.planAll(entries, wrong);
    const usedKeys = new Set<string>();
    const columns = new Map<string, Float64Array>();
    const byEntry = new Map<string, Plan[]>();
    for (const { plan, id } of plans) {
      usedKeys.add(plan.key);
      const known = this.values.get(plan.key);
      if (known) columns.set(plan.name, known);
      else this.values.set(plan.key, computePlan(plan, this.frame, columns).values);
      byEntry.set(id, [...(byEntry.get(id) ?? []), plan]);
    }
    for (const key of this.values.keys()) if (!usedKeys.has(key)) this.values.delete(key);
    return entries.map(({ id }) => wrong.get(id) ?? this.resultOf(id, byEntry.get(id)!));
  }

  /** Plans of all entries that can be used. Each round one that cannot is told and left out. */
  private planAll(entries: readonly EntryText[], wrong: Map<string, EntryResult>): { plan: Plan; id: string }[] {
    const usable = [...entries];
    for (;;) {
      try {
        const plans = planEntries(
          usable.map(({ text }) => text),
          Object.keys(this.frame.columns),
        );
        return plans.map((plan) => ({ plan, id: usable[plan.entryIndex].id }));
      } catch (error) {
        if (!(error instanceof FormulaError)) throw error;
        const [{ id }] = usable.splice(error.entryIndex, 1);
        const { message, position, length } = error;
        this.sent.delete(id);
        wrong.set(id, { id, state: 'wrong', message, position, length });
      }
    }
  }

  private resultOf(id: string, plans: Plan[]): EntryResult {
    const keys = plans.map(({ key }) => key).join();
    if (this.sent.get(id) === keys) return { id, state: 'same' };
    this.sent.set(id, keys);
    const [{ unit, phrase }] = plans;
    return {
      id,
      state: 'drawn',
      unit,
      phrase,
      looksAhead: plans.some((plan) => plan.looksAhead),
      columns: plans.map((plan) => this.drawn(plan)),
    };
  }

  private drawn({ name, member, key }: Plan): DrawnColumn {
    // a copy goes to the page, since its buffer is transferred; what is kept here serves the entries that use it
    const values = this.values.get(key)!.slice();
    const first = values.findIndex((value) => !Number.isNaN(value));
    return { name, member, values, summary: summarised(values), firstValid: first < 0 ? values.length : first };
  }
}
