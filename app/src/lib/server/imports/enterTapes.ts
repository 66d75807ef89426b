import { GenerationWriter } from '../store/generations';
import type { Store } from '../store/store';
import { findTape, insertLeftOut, insertTape, listTapes, nameTaken, type NewTape } from '../store/tapes';
import type { FileFacts, FileImport, IncomingTape } from './fileImport';

/** Tapes that are named after what is in the file give way to those on the shelf, by a number behind their names. */
function giveFreeNames(incoming: readonly IncomingTape[], shelf: readonly { name: string }[]): void {
  const taken = new Set(shelf.map(({ name }) => name.toLowerCase()));
  for (const tape of incoming) {
    const stem = tape.name.slice(0, 36);
    for (let number = 2; taken.has(tape.name.toLowerCase()); number++) tape.name = `${stem}_${number}`;
    taken.add(tape.name.toLowerCase());
  }
}

/**
 * Enters all tapes of a file: their chunks a few at a time, which nobody sees, and then all tapes at once.
 * @returns their names
 * @throws {Refusal} where a name is taken; nothing is entered then
 */
export async function enterTapes(store: Store, file: FileImport, facts: FileFacts): Promise<string[]> {
  // asked again when they are entered; here so that long work is not in vain
  await store.read(async (rows) => {
    const [only, ...others] = file.tapes;
    if (others.length > 0) giveFreeNames(file.tapes, await listTapes(rows));
    else if (await findTape(rows, only.name)) throw nameTaken(only.name);
  });
  const generations: GenerationWriter[] = [];
  try {
    const tapes: { tape: NewTape; incoming: IncomingTape }[] = [];
    for (const incoming of file.tapes.filter(({ writer }) => writer.rows > 0)) {
      const generation = new GenerationWriter(store, file.now);
      generations.push(generation);
      for await (const chunk of incoming.writer.chunks()) await generation.add(chunk);
      await generation.finish();
      tapes.push({ tape: { ...file.tapeOf(incoming, facts), generationId: generation.id }, incoming });
    }
    await store.write(async (rows) => {
      for (const { tape, incoming } of tapes)
        await insertLeftOut(rows, await insertTape(rows, tape), file.leftOut(incoming));
    });
    return tapes.map(({ tape }) => tape.name);
  } catch (error) {
    for (const generation of generations) await generation.discard();
    throw error;
  }
}
