/** Something that keeps a store from being carried elsewhere, told in a sentence. */
export class KeepingError extends Error {
  override readonly name = 'KeepingError';
}

/** Told what is being done, in a line. */
export type Told = (line: string) => void;
