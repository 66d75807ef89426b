import { setTimeout } from 'node:timers/promises';
import { makeCalendar } from '@jaunty-ledger/core';
import { BY_CALENDAR, CHECKS, withoutCalendar, type Treatments } from '@jaunty-ledger/files/checks/checks';
import { refuse } from '$lib/api/problems';
import { isSameCalendar } from '$lib/api/calendars';
import { calendarOptions, type CalendarCheck, type TapeChange } from '$lib/api/tapes';
import { rfc3339 } from '@jaunty-ledger/core';
import { encodeChunk } from '../chunks/tapeChunk';
import { Findings } from '@jaunty-ledger/files/checks/findings';
import { RecordChecks } from '@jaunty-ledger/files/checks/recordChecks';
import { priceColumnOf } from '@jaunty-ledger/files/records/recordReader';
import { chunksBetween, recordsIn } from '../store/chunks';
import { GenerationWriter } from '../store/generations';
import { ledgers } from '../store/ledgers';
import { handovers } from '../store/handovers';
import { pages } from '../store/pages';
import type { Rows, Store } from '../store/store';
import { findTape, nameTaken, noteCalendarCheck, replaceRecords, updateTape } from '../store/tapes';
import type { StoredTape } from '../store/tapeRows';
import type { Course } from './course';
import type { TaskKind } from './taskKind';

/** A change that is made anew because the tape was changed meanwhile; more often it is given up. */
const MOST_ATTEMPTS = 20;
/** Between two attempts, so that they do not fall in with writes at regular times, as those of a feed on another server. */
const PAUSE_MS = 40;

/** Renames a tape, or changes its calendar, unit or note. Ledgers follow a new name, and flags a new calendar. */
const HOLDS = { ticks: 'trades', quotes: 'quotes', bars: 'bars', series: 'single values' } as const;

export const changeTape: TaskKind<{ name: string; change: TapeChange; rows: number; now: number }> = {
  records: ({ rows, change: { zone, session, weekdays, closed, closeIncluded } }) =>
    [zone, session, weekdays, closed, closeIncluded].some((told) => told !== undefined) ? 4 * rows : 0,
  writes: true,
  run: async ({ name, change, now }, { store, course }) => {
    for (let attempt = 0; attempt < MOST_ATTEMPTS; attempt++) {
      if (await changed(store, name, change, now, course)) return new Uint8Array(0);
      await setTimeout(PAUSE_MS * Math.random());
    }
    throw refuse('tape-changed', `${name} is being changed elsewhere. Try again.`);
  },
};

/** Whether a change was made; it was not where the tape was changed by somebody else in the meantime. */
async function changed(store: Store, name: string, change: TapeChange, now: number, course: Course): Promise<boolean> {
  const tape = await store.read((rows) => findTape(rows, name));
  if (!tape) throw refuse('unknown-tape', `No tape is called ${name}.`);
  if (change.sharedTimes && tape.kind !== 'series')
    throw refuse('invalid-body', `\`sharedTimes\` is for single values; ${name} holds ${HOLDS[tape.kind]}.`);
  const after = { ...tape, ...defined(change) };
  if (isSameCalendar(after, tape)) return store.write((rows) => entered(rows, tape, change));
  const generation = new GenerationWriter(store, now);
  try {
    const { flagged, check } = await flagByCalendar(store, after, generation, now, course);
    const isEntered = await store.write(async (rows) => {
      if (!(await entered(rows, tape, change))) return false;
      await replaceRecords(rows, tape, generation.id, now);
      await noteCalendarCheck(rows, tape, flagged, check);
      return true;
    });
    if (!isEntered) await generation.discard();
    return isEntered;
  } catch (error) {
    await generation.discard();
    throw error;
  }
}

/** Writes what needs no look at the records; not where the tape is another than the one that the change was made for. */
async function entered(rows: Rows, tape: StoredTape, change: TapeChange): Promise<boolean> {
  const now = await findTape(rows, tape.name);
  if (now?.id !== tape.id || now.version !== tape.version) return false;
  const { name = tape.name } = change;
  if (name !== tape.name) {
    const other = await findTape(rows, name);
    if (other && other.id !== tape.id) throw nameTaken(name);
    await ledgers.rename(rows, tape.name, name);
    await pages.rename(rows, tape.name, name);
    await handovers.rename(rows, tape.name, name);
  }
  await updateTape(rows, tape, change);
  return true;
}

const defined = (change: TapeChange): Partial<TapeChange> & object =>
  Object.fromEntries(Object.entries(change).filter(([, value]) => value !== undefined));

/** Writes the records of a tape into a generation with the flags that depend on the calendar set anew; all others stay. */
async function flagByCalendar(
  store: Store,
  tape: StoredTape,
  generation: GenerationWriter,
  now: number,
  course: Course,
): Promise<{ flagged: number; check: CalendarCheck }> {
  const treatments: Treatments = Object.fromEntries(CHECKS.map(({ id }) => [id, 'keep']));
  for (const id of BY_CALENDAR) {
    const chosen = tape.report.findings.find((finding) => finding.id === id)?.treatment;
    treatments[id] = chosen === 'keep' ? 'keep' : 'flag';
  }
  const findings = new Findings(treatments);
  const checks = new RecordChecks(tape.kind, makeCalendar(calendarOptions(tape)), findings, Infinity);
  let flagged = 0;
  let done = 0;
  for await (const chunk of chunksBetween(store, tape, -Infinity, Infinity)) {
    course.goOn(done / tape.rows);
    const columns = recordsIn(tape, chunk);
    const before = columns.flags;
    columns.flags = before.map(withoutCalendar);
    checks.check(columns, chunk.rows);
    flagged += columns.flags.reduce((count, flag) => count + (flag === 0 ? 0 : 1), 0);
    if (columns.flags.some((flag, row) => flag !== before[row])) {
      const { decimals: _, ...fresh } = encodeChunk(columns, priceColumnOf(tape.kind));
      await generation.add(fresh);
    } else await generation.keep(chunk);
    done += chunk.rows;
  }
  await generation.finish();
  const [outside, closedDate] = BY_CALENDAR.map((id) => findings.countOf(id));
  return { flagged, check: { at: rfc3339(now), outside, closedDate } };
}
