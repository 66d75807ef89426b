import { firstLedger, type NewLedger } from '$lib/api/ledgers';
import { naturalBars } from '$lib/api/naturalBars';
import type { Tape } from '$lib/api/tapes';

/**
 * The ledger that a tape opens with: quarters of an hour, unless the records lie further apart or reach less far; volume
 * where they tell of it; a line where each record is one value.
 */
export function ledgerFor(
  tape: Pick<Tape, 'name' | 'kind' | 'interval' | 'rows' | 'from' | 'to' | 'precision' | 'columns' | 'sharedTimes'>,
): NewLedger {
  const ledger = firstLedger(tape.name, naturalBars(tape));
  const hasVolume = tape.columns.includes('size') || tape.columns.includes('volume');
  const lanes = ledger.body.lanes
    .filter(({ base }) => base !== 'volume' || hasVolume)
    .map((lane) => (lane.base === 'price' && tape.kind === 'series' ? { ...lane, bars: 'line' as const } : lane));
  return { ...ledger, body: { ...ledger.body, lanes } };
}
