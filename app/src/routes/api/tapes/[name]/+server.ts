import { changeTo } from '$lib/api/calendars';
import { TapeDetails, TapeChange } from '$lib/api/tapes';
import { requireChange } from '$lib/server/auth/sharing';
import { tapeOf } from '$lib/server/http/answer';
import { endpoint } from '$lib/server/http/endpoint';
import { withTapeHeld } from '$lib/server/live/liveService';
import { logged } from '$lib/server/log';
import { calendarOf } from '$lib/server/store/calendars';
import { deleteTape, findTape } from '$lib/server/store/tapes';
import { shownDetails } from '$lib/server/store/tapeRows';
import { runTask } from '$lib/server/tasks/runTask';

export const GET = endpoint(
  { says: 'One tape, with its report.', answer: TapeDetails, refuses: ['unknown-tape'], writes: false },
  async ({ event }) => shownDetails(await tapeOf(event)),
);

/** A new calendar goes through all records, so a thread does it. */
export const PATCH = endpoint(
  {
    says: 'Changes the name, calendar, unit or note of a tape.',
    body: TapeChange,
    answer: TapeDetails,
    refuses: [
      'unknown-tape',
      'not-allowed',
      'unknown-calendar',
      'name-taken',
      'tape-changed',
      'too-much-work',
      'damaged-tape',
    ],
    writes: true,
  },
  async ({ event, body: change, client, signal }) => {
    const tape = await tapeOf(event);
    await requireChange(event, 'tape', tape.id);
    const { name, rows } = tape;
    const { calendar } = change;
    const kept = calendar ? await event.locals.store.read((read) => calendarOf(read, calendar)) : undefined;
    await withTapeHeld(tape, () =>
      runTask(
        'changeTape',
        { name, change: { ...change, ...(kept && changeTo(kept)) }, rows, now: Date.now() * 1000 },
        { client, signal },
      ),
    );
    logged(event, 'changed', { tape: name, ...(change.name && { renamed: change.name }) });
    return shownDetails(await tapeOf(event, change.name ?? name));
  },
);

export const DELETE = endpoint(
  {
    says: 'Deletes a tape. `POST …/restore` restores it within a day.',
    refuses: ['unknown-tape', 'not-allowed'],
    writes: true,
  },
  async ({ event }) => {
    const tape = await tapeOf(event);
    await requireChange(event, 'tape', tape.id);
    const { name } = tape;
    await withTapeHeld(tape, () =>
      event.locals.store.write(async (rows) => {
        const now = await findTape(rows, name);
        if (now) await deleteTape(rows, now, Date.now() * 1000);
      }),
    );
    logged(event, 'deleted', { tape: name });
  },
);
