import type { FormulaError } from '@jaunty-ledger/core';
import { evaluate, makeCalendar, type Frame } from '@jaunty-ledger/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Evaluation } from './evaluation';
import { withPreviews } from './previewRows';
import type { Drawn, RowRange, Wrong } from './protocol';

/* What the page sees as entries change, be it ever so often, is what they give when they are evaluated for the first time. */

const ROWS = 160;
const frame = (level: number): Frame => ({
  time: Float64Array.from({ length: ROWS }, (_, row) => row * 60e6),
  columns: { close: Float64Array.from({ length: ROWS }, (_, row) => level + Math.sin(row * row)) },
  calendar: makeCalendar({ zone: 'UTC' }),
});

const GIVEN_UP = new Error('given up');

/** The page's side: it keeps what it has where nothing has changed, and gives back what it has done with. */
class Page {
  shown = new Map<string, Drawn | Wrong>();
  changed: string[] = [];
  previewed: string[] = [];
  private given: ArrayBuffer[] = [];

  constructor(private readonly evaluation: Evaluation) {}

  /** @param hurried  whether a later evaluation takes its place as soon as the rows looked at were seen */
  async show(entries: Record<string, string>, looked: RowRange[] = [], hurried = false): Promise<void> {
    this.evaluation.useAgain(structuredClone(this.given, { transfer: this.given }));
    this.given = [];
    this.previewed = [];
    const texts = Object.entries(entries).map(([id, text]) => ({ id, text }));
    const evaluated = this.evaluation.evaluate(texts, {
      looked,
      preview: (previews) => {
        this.shown = withPreviews(this.shown, previews);
        this.previewed = previews.map(({ id }) => id).filter((id) => this.shown.has(id));
        if (hurried && previews.length > 0) throw GIVEN_UP;
      },
    });
    const results = await evaluated.catch((error: unknown) => {
      if (error !== GIVEN_UP) throw error;
    });
    if (!results) return;
    const next = new Map(
      results.map((result) => [result.id, result.state === 'same' ? this.shown.get(result.id)! : result]),
    );
    this.changed = results.flatMap(({ id, state }) => (state === 'same' ? [] : [id]));
    const gone = [...this.shown.values()].filter((result) => next.get(result.id) !== result);
    this.given = gone.flatMap((result) =>
      result.state === 'drawn' ? result.columns.map(({ values }) => values.buffer as ArrayBuffer) : [],
    );
    this.shown = next;
  }

  valuesOf(id: string): number[][] | undefined {
    const result = this.shown.get(id);
    return result?.state === 'drawn' ? result.columns.map(({ values }) => [...values]) : undefined;
  }
}

const load = (tape: string) => (tape === 'SALT' ? Promise.resolve(frame(40)) : Promise.reject(new Error(tape)));
const page = () =>
  new Page(new Evaluation(frame(80), { names: new Map([['SALT', new Set(['close'])]]), aliases: new Map(), load }));

describe('entries that change', () => {
  const text = {
    a: fc.constantFrom(
      'a = mean(close, 5 bars)',
      'a = mean(close, 9 bars)',
      'a = lag(close)',
      'a = close + c',
      'a = mean(',
    ),
    b: fc.constantFrom('b = a * 2', 'b = bands(close, 5 bars, 2)', 'b = close - SALT.close', 'b = stdev(a, 4 bars)'),
    c: fc.constantFrom('c = b + 1', 'c = ema(close, [3, 6] bars)', 'c = nothing', 'c = max(close, 3 bars)'),
  };
  const ledgers = fc.array(fc.record(text, { requiredKeys: [] }), { minLength: 1, maxLength: 8 });
  const stretch = fc.tuple(fc.nat(ROWS - 4), fc.nat(3)).map(([from, rows]): RowRange => [from, from + rows]);

  it('give what they give when they are new', () =>
    fc.assert(
      fc.asyncProperty(ledgers, async (steps) => {
        const worked = page();
        for (const entries of steps) {
          await worked.show(entries);
          const fresh = page();
          await fresh.show(entries);
          for (const id of Object.keys(entries)) {
            expect(worked.valuesOf(id), `${id} of ${JSON.stringify(entries)}`).toEqual(fresh.valuesOf(id));
            expect(worked.shown.get(id)!.state).toBe(fresh.shown.get(id)!.state);
          }
        }
      }),
      { numRuns: 200 },
    ));

  it('are seen first where one looks, and whatever was seen or given up comes out as if it were new', async () => {
    let seen = 0;
    const step = fc.record({
      entries: fc.record(text),
      looked: fc.array(stretch, { maxLength: 2 }),
      hurried: fc.boolean(),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 2, maxLength: 8 }), async (steps) => {
        const worked = page();
        for (const { entries, looked, hurried } of steps) {
          const before = new Map(worked.shown);
          await worked.show(entries, looked, hurried);
          const fresh = page();
          await fresh.show(entries);
          for (const id of worked.previewed) {
            const [old, now, wanted] = [before, worked.shown, fresh.shown].map((shown) => shown.get(id));
            if (old?.state !== 'drawn' || now?.state !== 'drawn' || wanted?.state !== 'drawn') continue;
            if (old.columns.length !== wanted.columns.length) continue;
            seen++;
            wanted.columns.forEach(({ values }, column) => {
              for (const [from, to] of looked)
                now.columns[column].values.subarray(from, to).forEach((value, row) => {
                  if (Number.isNaN(values[from + row])) expect(value).toBeNaN();
                  else expect(value).toBeCloseTo(values[from + row], 9);
                });
            });
          }
        }
        const { entries } = steps.at(-1)!;
        await worked.show(entries);
        const fresh = page();
        await fresh.show(entries);
        for (const id of Object.keys(entries)) expect(worked.valuesOf(id)).toEqual(fresh.valuesOf(id));
      }),
      { numRuns: 200 },
    );
    expect(seen).toBeGreaterThan(50);
  });

  it('are those that the core evaluates at once', async () => {
    const entries = { a: 'a = mean(close, 5 bars)', b: 'b = a - SALT.close', c: 'c = ema(b, [3, 6] bars)' };
    const shown = page();
    await shown.show(entries);
    const columns = evaluate(Object.values(entries), { ...frame(80), others: { SALT: frame(40) } });
    expect(Object.keys(entries).flatMap((id) => shown.valuesOf(id)!)).toEqual(columns.map(({ values }) => [...values]));
  });

  it('bring along only those that use them', async () => {
    const shown = page();
    const entries = { a: 'a = mean(close, 5 bars)', b: 'b = a * 2', c: 'c = max(close, 3 bars)' };
    await shown.show(entries);
    await shown.show({ ...entries, a: 'a = mean(close, 6 bars)' });
    expect(shown.changed).toEqual(['a', 'b']);
    await shown.show({ ...entries, a: 'a = mean(close, 6 bars)' });
    expect(shown.changed).toEqual([]);
  });

  it('that cannot be used say so with their place, and keep no other from being drawn', async () => {
    const shown = page();
    await shown.show({ a: 'a = mean(close)', b: 'b = a + 1', c: 'c = lag(close)' });
    const states = ['a', 'b', 'c'].map((id) => shown.shown.get(id)!.state);
    expect(states).toEqual(['wrong', 'wrong', 'drawn']);
    let error: unknown;
    try {
      evaluate(['a = mean(close)'], frame(80));
    } catch (caught) {
      error = caught;
    }
    const { message, position } = error as FormulaError;
    expect(shown.shown.get('a')).toMatchObject({ message, position });
  });
});

it('a ledger of a long chain of entries can be opened, and one of them mended', async () => {
  const page = new Page(new Evaluation(frame(100)));
  const entries = Object.fromEntries(
    Array.from({ length: 60 }, (_, at) => [`e${at}`, `e${at} = ${at < 2 ? 'close' : `(e${at - 1} + e${at - 2}) / 2`}`]),
  );
  await page.show({ ...entries, e3: 'e3 = mean(close' });
  expect(page.shown.get('e59')).toMatchObject({
    state: 'wrong',
    message: expect.stringContaining('`e58` cannot be used'),
  });
  await page.show(entries);
  expect(page.valuesOf('e59')).toEqual(page.valuesOf('e0'));
});
