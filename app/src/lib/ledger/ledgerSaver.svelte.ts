import { createLedger, saveLedger } from '$lib/api/client';
import type { Ledger, NewLedger } from '$lib/api/ledgers';
import { reasonOf, Refusal } from '$lib/api/problems';
import type { KeptStorage } from '$lib/api/browserStorage';
import { UnsavedChanges, type Unsaved } from './unsaved';

/** Changes that follow each other faster are saved as one. */
const SAVE_AFTER_MS = 400;
/** A save that failed for want of a server is tried again after so long, then after twice as long, up to a bound. */
const RETRY_MS = { first: 2000, longest: 60_000 };

type Saving =
  /** Nothing was changed yet of a ledger that is only looked at: it is not in the store. */
  { state: 'draft' } | { state: 'saved'; at: string } | { state: 'waiting' } | { state: 'failed'; message: string };

/** Saves a ledger as it goes, each time on the version of the time before. A draft is made a ledger by its first change. */
export class LedgerSaver {
  saving = $state() as Saving;
  /** Changes of an earlier visit that could not be saved, and cannot be now: somebody else has changed the ledger since. */
  rescued = $state.raw<Unsaved>();
  /** The number of the ledger, once it is kept. */
  id = $state<number>();
  private version: number;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private retryMs = RETRY_MS.first;
  private isUnderWay = false;
  /** Changes so far: what is saved is the latest only if none came while it was on its way. */
  private changes = 0;
  private readonly unsaved: UnsavedChanges;

  /**
   * @param current  what is to be saved, asked for when it is
   * @param created  told the number that a draft has got
   */
  constructor(
    ledger: Ledger | NewLedger,
    private readonly current: () => NewLedger,
    private readonly created: (id: number) => void,
    storage: KeptStorage | undefined,
  ) {
    const isKept = 'id' in ledger;
    this.id = isKept ? ledger.id : undefined;
    this.version = isKept ? ledger.version : 0;
    this.saving = isKept ? { state: 'saved', at: ledger.savedAt } : { state: 'draft' };
    const ofDraft = new UnsavedChanges(storage, `jaunty-unsaved-draft-${ledger.body.tape}`);
    this.unsaved = isKept ? new UnsavedChanges(storage, `jaunty-unsaved-${ledger.id}`) : ofDraft;
    // a draft that was on its way when its page was left, and is this ledger now
    const draft = isKept ? ofDraft.found() : undefined;
    if (draft && isSame(draft, ledger)) ofDraft.forget();
  }

  /** What an earlier visit could not save, where nobody has changed the ledger since; whoever takes it has it saved. */
  takeUnsaved(): NewLedger | undefined {
    const found = this.unsaved.found();
    [this.rescued] = this.unsaved.aside();
    if (!found) return undefined;
    const { version, ...ledger } = found;
    if (version === this.version) return ledger;
    // it was on its way when the page was left, and has come
    if (isSame(ledger, this.current())) {
      this.unsaved.forget();
      return undefined;
    }
    this.unsaved.setAside(found);
    this.rescued ??= found;
    return undefined;
  }

  /** Forgets the changes that are told of as rescued, and tells of the next ones. */
  forgetRescued(): void {
    this.unsaved.forgetAside();
    [this.rescued] = this.unsaved.aside();
  }

  /** The change is kept at once, for whoever leaves before it is saved. */
  changed(): void {
    this.wait();
    this.keep();
  }

  private wait(): void {
    this.changes++;
    this.saving = { state: 'waiting' };
    this.saveAfter(SAVE_AFTER_MS);
  }

  /** Where one looks is saved with a ledger, but makes none of a draft. */
  looked(): void {
    if (this.saving.state !== 'draft') this.wait();
  }

  /** Saves at once what waits. What cannot be saved is kept for the next visit. */
  close(): void {
    const { state } = this.saving;
    if (state !== 'waiting' && state !== 'failed') return;
    this.keep();
    void this.save();
  }

  private keep(): void {
    this.unsaved.keep({ ...this.current(), version: this.version });
  }

  private saveAfter(milliseconds: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.save(), milliseconds);
  }

  private async save(): Promise<void> {
    clearTimeout(this.timer);
    if (this.isUnderWay) return this.saveAfter(SAVE_AFTER_MS); // in order
    this.isUnderWay = true;
    const { changes } = this;
    try {
      const { version, savedAt } = await this.send();
      this.version = version;
      this.retryMs = RETRY_MS.first;
      if (changes === this.changes) {
        this.unsaved.forget();
        this.saving = { state: 'saved', at: savedAt };
      } else this.keep(); // what came meanwhile is a change of this version
    } catch (error) {
      this.saving = { state: 'failed', message: reasonOf(error) };
      this.keep();
      // what was refused would be refused again; a server that is away may come back
      const isRefused = error instanceof Refusal && error.problem.status < 500;
      if (!isRefused) this.retry();
    } finally {
      this.isUnderWay = false;
    }
  }

  private retry(): void {
    this.saveAfter(this.retryMs);
    this.retryMs = Math.min(RETRY_MS.longest, 2 * this.retryMs);
  }

  private async send(): Promise<Ledger> {
    if (this.id !== undefined) return saveLedger(fetch, this.id, { ...this.current(), version: this.version });
    const ledger = await createLedger(fetch, this.current());
    this.id = ledger.id;
    this.created(ledger.id);
    return ledger;
  }
}

/** Whether two ledgers say the same, wherever one looks. */
const isSame = (a: NewLedger, b: NewLedger): boolean => whatItSays(a) === whatItSays(b);
const whatItSays = ({ title, body }: NewLedger): string => JSON.stringify([title, { ...body, view: null }]);
