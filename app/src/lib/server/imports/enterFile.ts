import { refuse } from '$lib/api/problems';
import { GenerationWriter } from '../store/generations';
import { endJob } from '../store/jobs';
import { noteOwner } from '../store/ownership';
import type { Rows, Store } from '../store/store';
import { findTape, findTapes, insertLeftOut, insertTape, nameTaken, tapeNames } from '../store/tapes';
import type { StoredTape } from '../store/tapeRows';
import { preparedAppend } from './appendTape';
import type { FileFacts, FileImport, IncomingTape } from './fileImport';
import type { Entering, ImportOrder } from './importProtocol';
import type { PreparedTape } from './preparedTape';

/** A merge is made anew where somebody else has changed the tape meanwhile; more often it is given up. */
const MOST_ATTEMPTS = 20;

/**
 * Enters all tapes of a file: their chunks a few at a time, which nobody sees, and then all tapes at once.
 * @returns their names
 * @throws {Refusal} where a name is taken, or there is no tape to add to, or its records are of another kind or length;
 *   nothing is entered then
 */
export async function enterFile(
  store: Store,
  file: FileImport,
  facts: FileFacts,
  { entering, job, owner, untouchable = [] }: Pick<ImportOrder, 'entering' | 'job' | 'owner' | 'untouchable'>,
): Promise<string[]> {
  for (let attempt = 0; attempt < MOST_ATTEMPTS; attempt++) {
    const goals = await store.read((rows) => goalsOf(rows, file, entering));
    const others = goals.find(([, tape]) => tape && untouchable.includes(tape.id));
    if (others)
      throw refuse(
        'not-allowed',
        `${others[1]!.name} is somebody else's, and others may only read it. Nothing was entered.`,
      );
    const prepared: PreparedTape[] = [];
    try {
      for (const [incoming, tape] of goals)
        prepared.push(
          tape
            ? await preparedAppend(store, file, facts, incoming, tape)
            : await preparedTape(store, file, facts, incoming, owner),
        );
      await store.write(async (rows) => {
        for (const tape of prepared) if (!(await tape.enter(rows))) throw new ChangedMeanwhile();
        // a job ends with what it enters: both are kept, or neither
        const answer = JSON.stringify(prepared.map(({ name }) => name));
        if (job && !(await endJob(rows, job, { state: 'done', answer }, Date.now())))
          throw refuse('store-busy', 'The file was taken over by another server.');
      });
      return prepared.map(({ name }) => name);
    } catch (error) {
      for (const tape of prepared) await tape.discard();
      if (!(error instanceof ChangedMeanwhile)) throw error;
    }
  }
  throw refuse(
    'tape-changed',
    `${file.tapeName} is being changed elsewhere again and again. Nothing was added; send it again.`,
  );
}

/** Undoes a write: somebody else was faster. */
class ChangedMeanwhile extends Error {}

/** The tapes of a file that hold records, each with the one on the shelf that it is added to. */
async function goalsOf(
  rows: Rows,
  { tapes, tapeName }: FileImport,
  entering: Entering,
): Promise<[IncomingTape, StoredTape | undefined][]> {
  const filled = tapes.filter(({ writer }) => writer.rows > 0);
  if (entering === 'join') {
    const names = filled.map(({ name }) => name);
    const known = new Map((await findTapes(rows, names)).map((tape) => [tape.name.toLowerCase(), tape]));
    return filled.map((incoming) => [incoming, known.get(incoming.name.toLowerCase())]);
  }
  if (entering === 'new') {
    // asked again when they are entered; here so that long work is not in vain
    if (tapes.length > 1) giveFreeNames(tapes, await tapeNames(rows));
    else if (await findTape(rows, tapes[0].name)) throw nameTaken(tapes[0].name);
    return filled.map((incoming) => [incoming, undefined]);
  }
  const tape = await findTape(rows, tapeName);
  if (!tape) throw refuse('unknown-tape', `No tape is called ${tapeName}.`);
  if (tapes.length > 1) throw refuse('invalid-body', `${tape.name} is one tape; the file has several instruments.`);
  return [[filled[0], tape]];
}

/** Tapes that are named after what is in the file give way to those on the shelf, by a number behind their names. */
function giveFreeNames(incoming: readonly IncomingTape[], shelf: readonly string[]): void {
  const taken = new Set(shelf.map((name) => name.toLowerCase()));
  for (const tape of incoming) {
    const stem = tape.name.slice(0, 36);
    for (let number = 2; taken.has(tape.name.toLowerCase()); number++) tape.name = `${stem}_${number}`;
    taken.add(tape.name.toLowerCase());
  }
}

async function preparedTape(
  store: Store,
  file: FileImport,
  facts: FileFacts,
  incoming: IncomingTape,
  owner: string | undefined,
): Promise<PreparedTape> {
  const generation = new GenerationWriter(store, file.now);
  try {
    for await (const chunk of incoming.records.chunks()) await generation.add(chunk);
    await generation.finish();
  } catch (error) {
    await generation.discard();
    throw error;
  }
  const tape = { ...file.tapeOf(incoming, facts), generationId: generation.id };
  return {
    name: tape.name,
    discard: () => generation.discard(),
    enter: async (rows) => {
      // a name that was free is added to where it has been taken in the meantime
      if (await findTape(rows, tape.name)) return false;
      const id = await insertTape(rows, tape);
      await insertLeftOut(rows, id, file.leftOut(incoming));
      // with the tape: a server that ends in between leaves none without its owner
      if (owner !== undefined) await noteOwner(rows, 'tape', id, { owner });
      return true;
    },
  };
}
