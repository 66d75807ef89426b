import { demoTapes, TARN_HARBOUR, type DemoTape } from '@jaunty-ledger/demo';
import { makeCalendar } from '@jaunty-ledger/core';
import type { NewHandover } from '$lib/api/newHandovers';
import { ExamineBody, type NewPage } from '$lib/api/pages';
import { firstLedger, newEntry, newLane } from '$lib/api/ledgers';
import type { MarketCalendar } from '$lib/api/calendars';
import { rfc3339 } from '@jaunty-ledger/core';
import { Findings } from '@jaunty-ledger/files/checks/findings';
import { ImportSpool } from './imports/tapeSpool';
import { RecordWriter } from '@jaunty-ledger/files/records/recordWriter';
import { settings } from './settings';
import { GenerationWriter } from './store/generations';
import { importedDemo, ledgersOfImports } from './demoImports';
import { demoHandover } from './demoHandover';
import { handovers } from './store/handovers';
import { ledgers } from './store/ledgers';
import { pages } from './store/pages';
import type { Rows, Store } from './store/store';
import { keepCalendar } from './store/calendars';
import { insertTape, listShelf } from './store/tapes';
import type { NewTape } from './store/tapeRows';

/** Whether nothing was ever put into a store. */
export const isUnused = (store: Store): Promise<boolean> => store.read(isUnusedIn);

const isUnusedIn = async (rows: Rows): Promise<boolean> =>
  (await listShelf(rows)).length === 0 && !(await ledgers.last(rows));

/**
 * Makes the demo world on an empty shelf: all of it or nothing, so that a first start that is killed begins anew.
 * @param say  told what comes
 * @returns    whether it was made; it is not where the shelf is not empty
 */
export async function makeDemo(store: Store, say: (line: string) => void): Promise<boolean> {
  if ((await store.read(listShelf)).length > 0) return false;
  const started = Date.now();
  say('Making the demo world, the Tarn Harbour Exchange…');
  const now = started * 1000;
  const tapes: NewTape[] = [];
  let page: NewHandover | undefined;
  for (const tape of demoTapes()) {
    const made = await written(store, tape, now);
    tapes.push(made);
    if (tape.name === HANDED_OVER) page = await demoHandover(tape, made);
    say(`  ${tape.name}: ${tape.columns.time.length.toLocaleString('en')} records`);
  }
  tapes.push(...(await importedDemo(store, now)));
  const isMade = await store.write(async (rows) => {
    // another server may have been faster
    if (!(await isUnusedIn(rows))) return false;
    await keepCalendar(rows, HARBOUR_CALENDAR, harbourCalendar());
    for (const tape of tapes) await insertTape(rows, tape);
    // the last one is the one that opens
    const all = [...ledgersOfImports(), demoLedger()];
    for (const [at, ledger] of all.entries()) await ledgers.insert(rows, ledger, now - (all.length - 1 - at));
    await pages.insert(rows, demoExamination(), now);
    if (page) await handovers.insert(rows, page, now);
    return true;
  });
  if (!isMade) return false;
  say(`The demo world is ready after ${((Date.now() - started) / 1000).toFixed(1)} s.`);
  return true;
}

/** The tape that the page to hand over is of. */
const HANDED_OVER = 'KELP_days';
const HARBOUR_CALENDAR = 'Tarn Harbour';

function harbourCalendar(): MarketCalendar {
  const { zone, session, weekdays, closed } = TARN_HARBOUR;
  return { name: HARBOUR_CALENDAR, zone, session, weekdays: [...weekdays], closed: [...closed], closeIncluded: false };
}

/** An examination that shows what the tide was made with: a session, and two weeks. */
const demoExamination = (): NewPage => ({
  title: 'The two swings of the tide',
  body: ExamineBody.parse({
    ...{ page: 'examine', tape: 'TIDE', bars: '15 minutes', entry: 'close' },
    ...{ season: 32, profile: 'slot' },
  }),
});

function demoLedger() {
  const { body } = firstLedger('KELP', '15 minutes');
  const [price, volume] = body.lanes;
  return {
    title: 'Kelp in the spring drift',
    body: {
      ...body,
      lanes: [
        { ...price, entries: [newEntry('smooth', 'smooth = mean(close, [10, 25, 50] bars)', 2)] },
        volume,
        {
          ...newLane('wild', 'none', 1),
          entries: [newEntry('wild', 'wild = stdev(logreturn(close), 20 bars)', 3)],
        },
      ],
    },
  };
}

/** Writes the records of a tape, for a row that points at them. */
async function written(store: Store, { name, kind, interval, note, columns }: DemoTape, now: number): Promise<NewTape> {
  const names = Object.keys(columns);
  const spool = new ImportSpool(settings.JAUNTY_DATA);
  const generation = new GenerationWriter(store, now);
  try {
    const calendar = makeCalendar(TARN_HARBOUR);
    const options = { kind, calendar, findings: new Findings({}), columns: names, now };
    const records = spool.forTape(kind);
    const writer = new RecordWriter(options, records);
    const values = new Float64Array(names.length);
    const rows = columns.time.length;
    for (let row = 0; row < rows; row++) {
      for (let at = 0; at < names.length; at++) values[at] = columns[names[at]][row];
      writer.add(values, row + 1, 0);
    }
    await writer.finish();
    for await (const chunk of records.chunks()) await generation.add(chunk);
    await generation.finish();
    return {
      ...writer.found(interval),
      ...harbourCalendar(),
      name,
      kind,
      calendar: HARBOUR_CALENDAR,
      tags: [],
      note,
      unit: 'crowns',
      columns: [...names, 'line', 'flags'],
      texts: [],
      numbers: [],
      precision: 'moment',
      generationId: generation.id,
      report: {
        file: 'the demo world',
        bytes: 0,
        sha256: '',
        lines: rows,
        reading: null,
        findings: writer.findings.list(),
        leftOutCount: 0,
        enteredAt: rfc3339(now),
      },
    };
  } finally {
    await spool.close();
  }
}
