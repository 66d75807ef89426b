import {
  FormulaError,
  LiveColumns,
  namesOf,
  planEach,
  Work,
  workingOf,
  type Column,
  type Course,
  type Frame,
  type Plan,
  type Working,
} from '@jaunty-ledger/core';
import { drawnOf, previewsOf } from './previewRows';
import type { DrawnColumn, EntryResult, EntryText, Preview, RowRange } from './protocol';

/** Where an evaluation gets the bars of other tapes from, on the rule of its own. */
interface OtherTapes {
  /** Columns of their bars by the names of the tapes. */
  names: ReadonlyMap<string, ReadonlySet<string>>;
  /** Further names of their columns. */
  aliases: ReadonlyMap<string, ReadonlyMap<string, string>>;
  load: (tape: string) => Promise<Frame>;
}

const NO_OTHERS: OtherTapes = {
  names: new Map(),
  aliases: new Map(),
  load: (tape) => Promise.reject(new Error(`no tape ${tape}`)),
};

/** How an evaluation goes on, and what it tells first. */
export interface EvaluationCourse extends Course {
  /** Rows that are looked at: changed entries are told of on these first, where that takes little of the whole time. */
  looked?: readonly RowRange[];
  preview?: (previews: Preview[]) => void;
}

/**
 * Evaluates the entries of a ledger again and again as they change. A column is computed anew only when its formula, or
 * one that it uses, has changed; an entry that cannot be used does not keep the others from being drawn.
 */
export class Evaluation {
  private values = new Map<string, Column[]>();
  /** By entry: the keys of the columns that were sent last. */
  private sent = new Map<string, string>();
  /** Columns that were sent, and came back. */
  private spare: Float64Array<ArrayBuffer>[] = [];
  private frame: Frame;
  /** Where rows have been added or changed since the columns were worked out; nothing where none have. */
  private grownFrom: number | undefined;
  /** Columns of these entries, which are advanced as rows come. */
  private live: { entries: string; columns: LiveColumns } | undefined;

  constructor(
    frame: Frame,
    private readonly others: OtherTapes = NO_OTHERS,
  ) {
    this.frame = { ...frame, others: {} };
  }

  /** Goes on with further rows. @param first  the first of them that is new, or other than it was */
  grow(frame: Frame, first: number): void {
    this.frame = { ...frame, others: this.frame.others };
    this.values.clear();
    this.sent.clear();
    this.grownFrom = Math.min(first, this.grownFrom ?? Infinity);
  }

  /** Takes memory for what is sent next. */
  useAgain(buffers: readonly ArrayBuffer[]): void {
    this.spare = buffers.map((buffer) => new Float64Array(buffer));
  }

  async evaluate(entries: readonly EntryText[], told: EvaluationCourse = {}): Promise<EntryResult[]> {
    const { progress, other, looked, preview } = told;
    const wrong = new Map<string, EntryResult>();
    const plans = this.planAll(entries, wrong);
    await this.loadOthers(plans.flatMap(({ plan }) => plan.tapes));
    if (this.grownFrom !== undefined) this.advance(entries, plans, this.grownFrom, progress);
    if (looked && preview) {
      const isShown = (id: string) => this.sent.has(id);
      const previews = previewsOf(this.frame, plans, { known: this.values, isShown }, looked);
      for (const { id } of previews) this.sent.set(id, ''); // what the page has of it is no longer what was sent
      preview(previews);
    }
    const missing = plans.filter(({ plan }) => !this.values.has(plan.key)).length;
    let done = 0;
    const share = progress && ((part: number) => progress((done + part) / missing));
    const work = new Work(
      this.frame,
      plans.map(({ plan }) => plan),
      { progress: share, other },
    );
    const byEntry = new Map<string, Plan[]>();
    /** Names of entries that could not be computed. */
    const failed = new Set<string>();
    for (const { plan, id } of plans) {
      try {
        const unusable = plan.uses.find((name) => failed.has(name));
        if (unusable !== undefined)
          throw new FormulaError(`\`${unusable}\` cannot be used: see what is wrong with it`, 0);
        const known = this.values.get(plan.key);
        if (known) for (const column of known) work.keep(plan, column);
        else {
          this.values.set(plan.key, work.compute(plan));
          done++;
          progress?.(done / missing);
        }
        byEntry.set(id, [...(byEntry.get(id) ?? []), plan]);
      } catch (error) {
        if (!(error instanceof FormulaError)) throw error;
        failed.add(plan.name);
        this.tellWrong(id, error, wrong);
      }
    }
    const usedKeys = new Set(plans.map(({ plan }) => plan.key));
    for (const key of this.values.keys()) if (!usedKeys.has(key)) this.values.delete(key);
    // an entry that is gone may come back, and the page has kept nothing of it
    const ids = new Set(entries.map(({ id }) => id));
    for (const id of this.sent.keys()) if (!ids.has(id)) this.sent.delete(id);
    return entries.map(({ id }) => wrong.get(id) ?? this.resultOf(id, byEntry.get(id)!));
  }

  /** Works out the columns of rows that have come, from what they were before. Where that fails, they are worked out as ever. */
  private advance(
    entries: readonly EntryText[],
    plans: readonly { plan: Plan }[],
    first: number,
    progress: Course['progress'],
  ): void {
    this.grownFrom = undefined;
    const usable = new Set(plans.map(({ plan }) => plan.entryIndex));
    const texts = entries.flatMap(({ text }, index) => (usable.has(index) ? [text] : []));
    const key = texts.join('\n');
    try {
      const isNew = this.live?.entries !== key;
      if (isNew)
        this.live = {
          entries: key,
          columns: new LiveColumns(texts, {
            ...namesOf(this.frame),
            others: this.others.names,
            otherAliases: this.others.aliases,
          }),
        };
      const columns = this.live!.columns.advance(this.frame, isNew ? 0 : first, { progress });
      for (const { plan } of plans) {
        const own = columns.filter(
          ({ name, part }) => (part === '' ? name : name.slice(0, -part.length - 1)) === plan.name,
        );
        this.values.set(plan.key, own);
      }
    } catch (error) {
      if (!(error instanceof FormulaError)) throw error;
      this.live = undefined;
    }
  }

  /** How the value of an entry at a row came about; undefined where the entry cannot be used. */
  async working(entries: readonly EntryText[], id: string, row: number): Promise<Working | undefined> {
    const plans = this.planAll(entries, new Map());
    await this.loadOthers(plans.flatMap(({ plan }) => plan.tapes));
    const work = new Work(
      this.frame,
      plans.map(({ plan }) => plan),
    );
    for (const { plan, id: own } of plans) {
      const known = this.values.get(plan.key) ?? work.compute(plan);
      for (const column of known) work.keep(plan, column);
      if (own === id) return workingOf(plan, work, { time: this.frame.time, calendar: this.frame.calendar! }, row);
    }
    return undefined;
  }

  /** Plans of all entries that can be used. */
  private planAll(entries: readonly EntryText[], wrong: Map<string, EntryResult>): { plan: Plan; id: string }[] {
    const { plans, errors } = planEach(
      entries.map(({ text }) => text),
      { ...namesOf(this.frame), others: this.others.names, otherAliases: this.others.aliases },
    );
    for (const [index, error] of errors) this.tellWrong(entries[index].id, error, wrong);
    return plans.map((plan) => ({ plan, id: entries[plan.entryIndex].id }));
  }

  private tellWrong(id: string, { message, position, length }: FormulaError, wrong: Map<string, EntryResult>): void {
    this.sent.delete(id);
    wrong.set(id, { id, state: 'wrong', message, position, length });
  }

  private async loadOthers(tapes: readonly string[]): Promise<void> {
    for (const tape of tapes) this.frame.others![tape] ??= await this.others.load(tape);
  }

  private resultOf(id: string, plans: Plan[]): EntryResult {
    const keys = plans.map(({ key }) => key).join();
    if (this.sent.get(id) === keys) return { id, state: 'same' };
    this.sent.set(id, keys);
    const [{ unit, phrase }, ...fan] = plans;
    return {
      id,
      state: 'drawn',
      unit,
      phrase: fan.length > 0 ? `${phrase}, and with ${fan.map(({ member }) => member).join(', ')}` : phrase,
      looksAhead: plans.some((plan) => plan.looksAhead),
      ahead: plans[0].ahead,
      columns: plans.flatMap((plan) => this.drawn(plan)),
    };
  }

  private drawn(plan: Plan): DrawnColumn[] {
    const { name, member, key, parts } = plan;
    return drawnOf(plan, this.values.get(key)!).map(({ part, values, firstValid }) => ({
      name: part === '' ? name : `${name}.${part}`,
      member,
      part: parts.length > 1 ? part || parts[0].name : '',
      role: parts.find((one) => one.name === part)?.role,
      // a copy goes to the page, since its buffer is transferred; what is kept here serves the entries that use it
      values: this.copied(values),
      firstValid,
    }));
  }

  private copied(values: Float64Array): Float64Array {
    const at = this.spare.findIndex(({ length }) => length === values.length);
    if (at < 0) return values.slice();
    const [copy] = this.spare.splice(at, 1);
    copy.set(values);
    return copy;
  }
}
