import { demoTapes, TARN_HARBOUR, type DemoTape } from '@jaunty-ledger/demo';
import { firstLedger } from '$lib/api/ledgers';
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
    for (const tape of demoTapes()) {
      await enter(db, tape);
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
  const entry = (id: string, text: string, ink: number) => ({ id, text, ink, hidden: false });
  return {
    title: 'Kelp in the spring drift',
    body: {
      ...body,
      lanes: [
        { ...price, entries: [entry('smooth', 'smooth = mean(close, [10, 25, 50] bars)', 2)] },
        volume,
        {
          id: 'wild',
          base: 'none' as const,
          weight: 1,
          entries: [entry('wild', 'wild = stdev(logreturn(close), 20 bars)', 3)],
        },
      ],
    },
  };
}

async function enter(db: Store, { name, kind, interval, note, columns }: DemoTape): Promise<void> {
  const names = Object.keys(columns);
  const spool = await TapeSpool.open(settings.JAUNTY_DATA);
  try {
    const writer = new TapeWriter(kind, spool, () => names);
    const values = new Float64Array(names.length);
    const rows = columns.time.length;
    for (let row = 0; row < rows; row++) {
      for (let at = 0; at < names.length; at++) values[at] = columns[names[at]][row];
      writer.add(values);
    }
    await writer.flush();
    const { zone, session, weekdays, closed } = TARN_HARBOUR;
    const report = {
      file: 'demo world',
      bytes: 0,
      sha256: '',
      lines: rows,
      rows,
      columns: names,
      rejectedCount: 0,
      rejected: [],
      outOfOrder: 0,
      repeatedTimes: 0,
      enteredAt: new Date().toISOString(),
    };
    const facts = {
      name,
      kind,
      zone,
      session,
      weekdays: [...weekdays],
      closed: [...closed],
      closeIncluded: false,
      note,
      report,
    };
    await writer.enter(db, facts, interval);
  } finally {
    await spool.close();
  }
}
