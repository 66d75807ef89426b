import { z } from 'zod';
import { NewLedger } from '$lib/api/ledgers';

/** Where changes are kept that could not be saved; a browser's own storage, or nothing. */
export type UnsavedStorage = Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>;

const Unsaved = NewLedger.extend({ version: z.number().int() });
/** What a ledger said when it could not be saved, and the version that it was changed from. */
export type Unsaved = z.infer<typeof Unsaved>;

/** The changes of one ledger that are not saved yet, kept where the page that made them may be gone. */
export class UnsavedChanges {
  constructor(
    private readonly storage: UnsavedStorage | undefined,
    private readonly key: string,
  ) {}

  keep(unsaved: Unsaved): void {
    try {
      this.storage?.setItem(this.key, JSON.stringify(unsaved));
    } catch {
      return; // the browser's storage is full: the page still has them
    }
  }

  forget(): void {
    this.storage?.removeItem(this.key);
  }

  /** What was kept; nothing where it is none, or of a time when ledgers were made otherwise. */
  found(): Unsaved | undefined {
    const text = this.storage?.getItem(this.key);
    if (!text) return undefined;
    try {
      return Unsaved.parse(JSON.parse(text));
    } catch {
      this.forget();
      return undefined;
    }
  }
}
