import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import { demoFiles, type DemoFile } from '@jaunty-ledger/demo';
import { firstLedger, newEntry, newLane, type NewLedger } from '$lib/api/ledgers';
import { FileImport } from './imports/fileImport';
import { settings } from './settings';
import { GenerationWriter } from './store/generations';
import type { Store } from './store/store';
import type { NewTape } from './store/tapeRows';

/* Files of the demo world that are no prices, read as any file is. */

/** The tapes of all files, for rows that point at them. */
export async function importedDemo(store: Store, now: number): Promise<NewTape[]> {
  const tapes: NewTape[] = [];
  for (const file of demoFiles()) tapes.push(...(await imported(store, file, now)));
  return tapes;
}

async function imported(store: Store, { name, text, note, unit, zone }: DemoFile, now: number): Promise<NewTape[]> {
  const bytes = new TextEncoder().encode(text);
  const query = { name, zone, unit, file: `${name.toLowerCase()}.csv` };
  const file = new FileImport(settings.JAUNTY_DATA, query, {}, now, settings.limits);
  try {
    await file.read(Readable.from([bytes]), () => undefined);
    const facts = { bytes: bytes.length, sha256: createHash('sha256').update(bytes).digest('hex') };
    const tapes: NewTape[] = [];
    for (const tape of file.tapes) {
      const generation = new GenerationWriter(store, now);
      for await (const chunk of tape.records.chunks()) await generation.add(chunk);
      await generation.finish();
      tapes.push({ ...file.tapeOf(tape, facts), note, generationId: generation.id });
    }
    return tapes;
  } finally {
    await file.close();
  }
}

/** Ledgers that show them. */
export const ledgersOfImports = (): NewLedger[] => [
  ledgerOf('Landings since 1900', 'LANDINGS', '1 month', {
    over: ['year = mean(landings_t, 12 months)', 'decade = mean(landings_t, 10 years)'],
    below: 'growth = return(year, 12)',
    view: 'all',
  }),
  ledgerOf('Air at the harbour', 'HARBOUR_AIR', '1 hour', {
    over: ['day = mean(air_c, 1 day)'],
    below: 'swing = max(air_c, 1 day) - min(air_c, 1 day)',
  }),
  ledgerOf('Pilots called to the north quay', 'Northquay', '1 day', {
    over: ['week = mean(calls, 7 bars)'],
    below: 'others = Oldtown.calls + Skerries.calls',
  }),
  ledgerOf('Orders of the chandler', 'CHANDLER', '1 day, take: sum', {
    over: ['month = mean(amount, 20 bars)'],
    below: 'sofar = cumulative(amount)',
    view: 'all',
  }),
];

function ledgerOf(
  title: string,
  tape: string,
  rule: string,
  { over, below, view = null }: { over: string[]; below: string; view?: 'all' | null },
): NewLedger {
  const { body } = firstLedger(tape, rule);
  const price = body.lanes.find(({ base }) => base === 'price')!;
  const lanes = [
    { ...price, bars: 'line' as const, entries: over.map((text, at) => newEntry(`over${at}`, text, 2 + at)) },
    { ...newLane('below', 'none', 1), entries: [newEntry('below', below, 5)] },
  ];
  return { title, body: { ...body, view, lanes } };
}
