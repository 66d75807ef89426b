import { saveLedger } from '$lib/api/client';
import type { Ledger, NewLedger } from '$lib/api/ledgers';
import { Refusal } from '$lib/api/problems';

/** Changes that follow each other faster are saved as one. */
const SAVE_AFTER_MS = 400;

export type Saving = { state: 'saved'; at: string } | { state: 'waiting' } | { state: 'failed'; message: string };

/** Saves a ledger as it goes, each time on the version of the time before. */
export class LedgerSaver {
  saving = $state() as Saving;
  private readonly id: number;
  private version: number;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private isUnderWay = false;
  /** Changes so far: what is saved is the latest only if none came while it was on its way. */
  private changes = 0;

  /** @param current  what is to be saved, asked for when it is */
  constructor(
    { id, version, savedAt }: Ledger,
    private readonly current: () => NewLedger,
  ) {
    this.id = id;
    this.version = version;
    this.saving = { state: 'saved', at: savedAt };
  }

  changed(): void {
    this.changes++;
    this.saving = { state: 'waiting' };
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.save(), SAVE_AFTER_MS);
  }

  /** Saves at once what waits. */
  close(): void {
    if (this.saving.state === 'waiting') void this.save();
  }

  private async save(): Promise<void> {
    clearTimeout(this.timer);
    if (this.isUnderWay) return this.changed(); // in order
    this.isUnderWay = true;
    const { changes } = this;
    try {
      const { version, savedAt } = await saveLedger(fetch, this.id, { ...this.current(), version: this.version });
      this.version = version;
      if (changes === this.changes) this.saving = { state: 'saved', at: savedAt };
    } catch (error) {
      this.saving = { state: 'failed', message: error instanceof Refusal ? error.problem.detail : String(error) };
    } finally {
      this.isUnderWay = false;
    }
  }
}
