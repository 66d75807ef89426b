import { makeCalendar } from '@jaunty-ledger/core';
import { BY_CALENDAR, CHECKS, type Treatments } from '@jaunty-ledger/files/checks/checks';
import { Findings } from '@jaunty-ledger/files/checks/findings';
import { RecordChecks } from '@jaunty-ledger/files/checks/recordChecks';
import { calendarOptions } from '$lib/api/tapes';
import type { CalendarEffect, MarketCalendar } from '$lib/api/calendars';
import type { StoredTape } from '../store/tapeRows';
import { recordsBetween } from './tapeRecords';
import { WHOLE } from './range';
import type { TaskKind } from './taskKind';

const KEPT: Treatments = Object.fromEntries(CHECKS.map(({ id }) => [id, 'keep']));

/** What another calendar would find in the records of a tape, beside what its own finds, as JSON. */
export const calendarEffect: TaskKind<{ tape: StoredTape; calendar: MarketCalendar }> = {
  records: ({ tape }) => 2 * tape.rows,
  run: async ({ tape, calendar }, { store, course }) => {
    const looks = [tape, { ...tape, ...calendar }].map((one) => {
      const findings = new Findings(KEPT);
      return { findings, checks: new RecordChecks(tape.kind, makeCalendar(calendarOptions(one)), findings, Infinity) };
    });
    for await (const columns of recordsBetween(store, tape, WHOLE, { course }))
      for (const { checks } of looks) checks.check(columns, columns.time.length);
    const [outside, closedDate] = BY_CALENDAR.map((id) => looks.map(({ findings }) => findings.countOf(id)));
    const effect = { tape: tape.name, rows: tape.rows, outside, closedDate } as CalendarEffect;
    return new TextEncoder().encode(JSON.stringify(effect));
  },
};
