import { ReadingChoices } from '@jaunty-ledger/files/reading/reading';
import { previewReading, type PreviewInput } from '@jaunty-ledger/files/reading/previewReading';
import { readBy } from '../http/problem';
import { profileOfShape } from '../store/profiles';
import type { TaskKind } from './taskKind';

/** How a file would be read, as JSON. Packed files are unpacked for it, so it is work. */
export const previewFile: TaskKind<PreviewInput> = {
  records: () => 10_000,
  run: async (input, { store, limits }) => {
    const keptFor = async (shape: string) => {
      const profile = await store.read((rows) => profileOfShape(rows, shape));
      return profile && { name: profile.name, choices: readBy(ReadingChoices, profile.choices, 'invalid-body') };
    };
    return new TextEncoder().encode(JSON.stringify(await previewReading(input, keptFor, limits)));
  },
};
