import { z } from 'zod';
import { HandoverBody, type Block, type Kept, type Origin, type ToldCheck, type ToldTable } from './handovers';
import { Ledger } from './ledgers';
import { othersOfNew } from './people';

/* What of a page has to hold that a schema of its parts does not say: a page that is saved can be read for good. */

type Path = (string | number)[];
type Fault = { path: Path; message: string };

const isTime = (text: string): boolean => !Number.isNaN(Date.parse(text));

function isZone(zone: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone });
    return true;
  } catch {
    return false;
  }
}

function* faultsInOrigin(origin: Origin | null | undefined, path: Path): Generator<Fault> {
  if (!origin) return;
  if (!isZone(origin.zone)) yield { path: [...path, 'zone'], message: 'must be a time zone such as Atlantic/Faroe' };
  if (origin.decimals < 0 || origin.decimals > 20)
    yield { path: [...path, 'decimals'], message: 'must be from 0 to 20' };
  for (const end of ['from', 'to', 'at'] as const)
    if (!isTime(origin[end])) yield { path: [...path, end], message: 'must be a time such as 2026-02-02T08:30:00Z' };
}

function* faultsInTimes(times: readonly string[], path: Path): Generator<Fault> {
  const row = times.findIndex((time) => !isTime(time));
  if (row >= 0) yield { path: [...path, row], message: 'must be a time such as 2026-02-02T08:30:00Z' };
}

function* faultsInColumns({ origin, time, columns }: Kept, path: Path): Generator<Fault> {
  yield* faultsInOrigin(origin, [...path, 'origin']);
  yield* faultsInTimes(time, [...path, 'time']);
  for (const [name, values] of Object.entries(columns))
    if (values.length !== time.length)
      yield { path: [...path, 'columns', name], message: `has ${values.length} values for ${time.length} times` };
}

function* faultsInRows(rows: readonly (readonly unknown[])[], columns: number, path: Path): Generator<Fault> {
  const row = rows.findIndex(({ length }) => length !== columns);
  if (row >= 0)
    yield { path: [...path, row], message: `has ${rows[row].length} cells for ${columns} columns of the head` };
}

function* faultsInTable({ origin, head, units, rows }: ToldTable, path: Path): Generator<Fault> {
  yield* faultsInOrigin(origin, [...path, 'origin']);
  if (units.length !== head.length)
    yield { path: [...path, 'units'], message: `has ${units.length} units for ${head.length} columns of the head` };
  yield* faultsInRows(rows, head.length, [...path, 'rows']);
}

function* faultsInCheck({ origin, time, values }: ToldCheck, path: Path): Generator<Fault> {
  yield* faultsInOrigin(origin, [...path, 'origin']);
  yield* faultsInTimes(time, [...path, 'time']);
  if (values.length !== time.length)
    yield { path: [...path, 'values'], message: `has ${values.length} values for ${time.length} times` };
}

function* faultsInBlock(block: Block, path: Path): Generator<Fault> {
  if ('origin' in block) yield* faultsInOrigin(block.origin, [...path, 'origin']);
  if ('kept' in block && block.kept) yield* faultsInColumns(block.kept, [...path, 'kept']);
  if (block.kind === 'table' && block.told) yield* faultsInTable(block.told, [...path, 'told']);
  if (block.kind === 'checked' && block.told) yield* faultsInCheck(block.told, [...path, 'told']);
  if (block.kind === 'given') yield* faultsInRows(block.rows, block.head.length, [...path, 'rows']);
}

/** Refuses what a page could not be shown with. */
function refuseUnreadable({ blocks }: HandoverBody, context: z.RefinementCtx): void {
  for (const [at, block] of blocks.entries())
    for (const { path, message } of faultsInBlock(block, ['blocks', at]))
      context.addIssue({ code: 'custom', path, message });
}

export const NewHandover = z.strictObject({
  title: Ledger.shape.title,
  body: HandoverBody.superRefine(refuseUnreadable),
});
export type NewHandover = z.infer<typeof NewHandover>;
/** The body of `POST /api/handovers`. */
export const HandoverToMake = NewHandover.extend({ others: othersOfNew });
export const HandoverChange = NewHandover.extend({ version: z.number().int() });
