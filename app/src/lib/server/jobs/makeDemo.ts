import { demoTapes, TARN_HARBOUR, type DemoTape } from '@jaunty-ledger/demo';
import { makeCalendar } from '@jaunty-ledger/core';
import { firstLedger, newEntry, newLane } from '$lib/api/ledgers';
import { rfc3339 } from '$lib/api/times';
import { Findings } from '../files/findings';
import { TapeSpool } from '../files/tapeSpool';
import { TapeWriter } from '../files/tapeWriter';
import { settings } from '../settings';
import { openStore, type Store } from '../store/connection';
import { insertLedger, listLedgers } from '../store/ledgers';
import { listTapes } from '../store/tapes';

/* Makes the demo world in a store that is empty. Run by `npm start` before it serves. */

/** @returns whether there was anything to make */
export async function makeDemo(say: (line: string) => void): Promise<boolean> {
  const db = await openStore(settings.JAUNTY_DATA);
  try {
    const [tapes, ledgers] = await Promise.all([listTapes(db), listLedgers(db)]);
    if (tapes.length > 0 || ledgers.length > 0) return false;
    const now = Date.now() * 1000;
    for (const tape of demoTapes()) {
      await enter(db, tape, now);
      say(`  ${tape.name}: ${tape.columns.time.length.toLocaleString('en')} records`);
    }
    await insertLedger(db, demoLedger(), Date.now() * 1000);
    return true;
  } finally {
    await db.destroy();
  }
}

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

async function enter(db: Store, { name, kind, interval, note, columns }: DemoTape, now: number): Promise<void> {
  const names = Object.keys(columns);
  const spool = await TapeSpool.open(settings.JAUNTY_DATA);
  try {
    const calendar = makeCalendar(TARN_HARBOUR);
    const writer = new TapeWriter({ kind, calendar, findings: new Findings({}), columns: names, now }, spool);
    const values = new Float64Array(names.length);
    const rows = columns.time.length;
    for (let row = 0; row < rows; row++) {
      for (let at = 0; at < names.length; at++) values[at] = columns[names[at]][row];
      writer.add(values, row + 1, 0);
    }
    await writer.finish();
    const { zone, session, weekdays, closed } = TARN_HARBOUR;
    const report = {
      file: 'the demo world',
      bytes: 0,
      sha256: '',
      lines: rows,
      reading: null,
      findings: writer.findings.list(),
      leftOutCount: 0,
      enteredAt: rfc3339(now),
    };
    const calendarFacts = { zone, session, weekdays: [...weekdays], closed: [...closed], closeIncluded: false };
    await db.transaction(async (transaction) => {
      await writer.enter(
        transaction,
        { name, kind, ...calendarFacts, note, unit: 'crowns', words: {}, report },
        [],
        interval,
      );
    });
  } finally {
    await spool.close();
  }
}
