import { entryFacts, evaluate, makeCalendar, namesOf, planEntries, rfc3339, type Frame } from '@jaunty-ledger/core';
import { TARN_HARBOUR, type DemoTape } from '@jaunty-ledger/demo';
import type { Setting } from '$lib/api/handovers';
import type { NewHandover } from '$lib/api/newHandovers';
import { chartOf, checkedOf, draftOf, paragraphOf, tableOf } from '$lib/handover/blocks';
import { withToday, type Sources } from '$lib/handover/issue';
import type { TapeTold } from '$lib/handover/take';

/** A finished page of the demo world, made from its daily records of kelp as they are written. */
export async function demoHandover(tape: DemoTape, told: TapeTold): Promise<NewHandover> {
  const sources = sourcesOf(tape, told);
  const from = '2025-10-01T00:00:00Z';
  const entries = ['smooth = mean(close, 20 bars)', 'wild = stdev(logreturn(close), 20 bars)'];
  const setting: Setting = { tape: tape.name, bars: '1 day', flagged: true, alone: null, entries, from, to: '' };
  const ahead = { ...setting, entries: ['projected = projection(close, "drift", 20)'] };
  const line = (column: string, label: string, as: 'pale' | 'plain' | 'strong', ink: number) => ({
    ...{ column, label, as, ink },
  });
  const panel = (lines: ReturnType<typeof line>[]) => ({ lines, scale: 'fit' as const, unit: '', prefix: '' });
  const words = {
    ...paragraphOf(ahead),
    text: '# Where it might go\n\nNobody knows. If kelp went on as it has on average, it would end near {last projected} twenty days on; 95 of 100 such courses would end between {last projected.low} and {last projected.high}.',
  };
  return {
    title: 'Kelp, end of April',
    body: {
      ...{ reader: 'the board', author: 'the analyst of the harbour', day: '2026-04-24', changes: [] },
      blocks: [
        await draftOf(setting, sources),
        await chartOf(
          'Daily close (pale) and its mean over 20 days',
          setting,
          [
            panel([line('close', 'close', 'pale', 0), line('smooth', 'mean over 20 days', 'strong', 2)]),
            panel([line('wild', 'volatility over 20 days', 'plain', 3)]),
          ],
          sources,
        ),
        await tableOf(setting, 'standing', sources),
        await checkedOf(setting, 'smooth', sources),
        await withToday(words, sources, NOW()),
        await chartOf(
          'Kelp, and 20 days on by its usual drift',
          ahead,
          [
            panel([
              line('close', 'close', 'plain', 0),
              line('projected', 'drift', 'strong', 2),
              line('projected.low', '95 % from', 'pale', 7),
              line('projected.high', '95 % to', 'pale', 7),
            ]),
          ],
          sources,
        ),
      ],
    },
  };
}

const NOW = (): string => new Date().toISOString();

/** Figures of records at hand, as `POST /api/columns` would answer them: the bars of the tape are its records. */
function sourcesOf({ name, columns }: DemoTape, told: TapeTold): Sources {
  const { time, ...rest } = columns;
  const calendar = makeCalendar(TARN_HARBOUR);
  const frame: Frame = { time, columns: rest, calendar, rule: '1 day', tape: name };
  return {
    tape: () => Promise.resolve(told),
    trust: () => Promise.resolve(''),
    columns: ({ entries, from }) => {
      const first = time.findIndex((at) => at >= Date.parse(from ?? '1970-01-01') * 1000);
      const found = evaluate(entries, frame);
      const ahead = Math.max(0, ...found.map((column) => column.ahead));
      const shown = (values: Float64Array, later: number) =>
        Array.from({ length: time.length - first + ahead }, (_, row) => {
          const value = values[first + row - later];
          return value === undefined || Number.isNaN(value) ? null : value;
        });
      // days to come: this market trades from Monday to Friday
      const toCome = daysAfter(time[time.length - 1], ahead);
      return Promise.resolve({
        version: 1,
        entries: planEntries(entries, namesOf(frame)).flatMap((plan) =>
          entryFacts(plan).map((facts) => ({ ...facts, lag: Number.isNaN(facts.lag) ? null : facts.lag })),
        ),
        columns: {
          time: [...time.subarray(first), ...toCome].map(rfc3339),
          ...Object.fromEntries(Object.entries(rest).map(([column, values]) => [column, shown(values, 0)])),
          ...Object.fromEntries(found.map((column) => [column.name, shown(column.values, column.ahead)])),
        },
      });
    },
  };
}

function daysAfter(last: number, count: number): number[] {
  const days: number[] = [];
  for (let at = last + DAY; days.length < count; at += DAY) {
    const weekday = new Date(at / 1000).getUTCDay();
    if (weekday !== 0 && weekday !== 6) days.push(at);
  }
  return days;
}
const DAY = 86_400e6;
