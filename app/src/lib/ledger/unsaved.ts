import { z } from 'zod';
import { NewLedger } from '$lib/api/ledgers';
import { keepText, parsedJson, type KeptStorage } from '$lib/api/browserStorage';

const Unsaved = NewLedger.extend({ version: z.number().int() });
/** What a ledger said when it could not be saved, and the version that it was changed from. */
export type Unsaved = z.infer<typeof Unsaved>;

/** The changes of one ledger that are not saved yet, kept where the page that made them may be gone. */
export class UnsavedChanges {
  private readonly asideKey: string;

  constructor(
    private readonly storage: KeptStorage | undefined,
    private readonly key: string,
  ) {
    this.asideKey = `${key}-aside`;
  }

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

  /** Puts what was kept with those that meet another change, which stay until their owner says what becomes of them. */
  setAside(unsaved: Unsaved): void {
    if (this.keepAside([...this.aside(), unsaved])) this.forget();
  }

  /** Those that were put aside, the first one first. */
  aside(): Unsaved[] {
    const found = z.array(Unsaved).safeParse(parsedJson(this.storage?.getItem(this.asideKey) ?? '[]'));
    return found.data ?? [];
  }

  /** Forgets the first of those that were put aside. */
  forgetAside(): void {
    this.keepAside(this.aside().slice(1));
  }

  private keepAside(all: Unsaved[]): boolean {
    return keepText(this.storage, this.asideKey, JSON.stringify(all));
  }
}
