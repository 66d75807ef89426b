import { makeCalendar } from '@jaunty-ledger/core';
import { BY_CALENDAR, CHECKS, withoutCalendar, type Treatments } from '$lib/api/checks';
import { refuse } from '$lib/api/problems';
import { calendarOptions, type CalendarCheck, type TapeChange } from '$lib/api/tapes';
import { rfc3339 } from '$lib/api/times';
import { encodeChunk } from '../chunks/tapeChunk';
import { Findings } from '../files/findings';
import { RecordChecks } from '../files/recordChecks';
import { priceColumnOf } from '../files/recordReader';
import { chunksBetween, recordsIn, replaceChunk } from '../store/chunks';
import type { Store } from '../store/connection';
import { renameInLedgers } from '../store/ledgers';
import { findTape, noteCalendarCheck, updateTape, type StoredTape } from '../store/tapes';

/**
 * Renames a tape, or changes its calendar, unit or note. Ledgers follow a new name, and flags a new calendar.
 * @param db  a transaction
 * @throws {Refusal} where the new name is taken
 */
export async function changeTape(db: Store, tape: StoredTape, change: TapeChange, now: number): Promise<void> {
  const name = change.name ?? tape.name;
  if (name !== tape.name) {
    const other = await findTape(db, name);
    if (other && other.id !== tape.id) throw refuse('name-taken', `A tape is called ${name} already.`);
    await renameInLedgers(db, tape.name, name);
  }
  await updateTape(db, tape, change);
  const changed = (await findTape(db, name))!;
  if (JSON.stringify(calendarOptions(changed)) === JSON.stringify(calendarOptions(tape))) return;
  const { flagged, check } = await flagByCalendar(db, changed, now);
  await noteCalendarCheck(db, changed, flagged, check);
}

/** Sets the flags anew that hang on the calendar; all others stay. */
async function flagByCalendar(
  db: Store,
  tape: StoredTape,
  now: number,
): Promise<{ flagged: number; check: CalendarCheck }> {
  const treatments: Treatments = Object.fromEntries(CHECKS.map(({ id }) => [id, 'keep']));
  for (const id of BY_CALENDAR) {
    const chosen = tape.report.findings.find((finding) => finding.id === id)?.treatment;
    treatments[id] = chosen === 'keep' ? 'keep' : 'flag';
  }
  const findings = new Findings(treatments);
  const checks = new RecordChecks(tape.kind, makeCalendar(calendarOptions(tape)), findings, Infinity);
  let flagged = 0;
  for await (const chunk of chunksBetween(db, tape.id, -Infinity, Infinity)) {
    const columns = recordsIn(tape, chunk);
    const before = columns.flags;
    columns.flags = before.map(withoutCalendar);
    checks.check(columns, chunk.rows);
    flagged += columns.flags.reduce((count, flag) => count + (flag === 0 ? 0 : 1), 0);
    if (columns.flags.some((flag, row) => flag !== before[row]))
      await replaceChunk(db, tape.id, chunk.sequence, encodeChunk(columns, priceColumnOf(tape.kind)));
  }
  const [outside, closedDate] = BY_CALENDAR.map((id) => findings.countOf(id));
  return { flagged, check: { at: rfc3339(now), outside, closedDate } };
}
