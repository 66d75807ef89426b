import { z } from 'zod';
import { NewLedger } from '$lib/api/ledgers';
import { keepText, parsedJson, type KeptStorage } from '$lib/api/browserStorage';

const Unsaved = NewLedger.extend({ version: z.number().int() });
/** What a ledger said when it could not be saved, and the version that it was changed from. */
export type Unsaved = z.infer<typeof Unsaved>;

/** The changes of one ledger that are not saved yet, kept where the page that made them may be gone. */
export class UnsavedChanges {
  constructor(
    private readonly storage: KeptStorage | undefined,
    private readonly key: string,
  ) {}

  keep(unsaved: Unsaved): void {
    keepText(this.storage, this.key, JSON.stringify(unsaved)); // without room the page still has them
  }

  forget(): void {
    this.storage?.removeItem(this.key);
  }

  /** What was kept; nothing where it is none, or of a time when ledgers were made otherwise. */
  found(): Unsaved | undefined {
    const text = this.storage?.getItem(this.key);
    if (!text) return undefined;
    const found = Unsaved.safeParse(parsedJson(text));
    if (!found.success) this.forget();
    return found.data;
  }
}
