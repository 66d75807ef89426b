import { forgetEntry, keepEntry } from '$lib/api/client';
import type { KeptEntry } from '$lib/api/keptEntries';

/** Formulas that are kept for every ledger, the newest first. */
export class EntrySaver {
  all = $state.raw<readonly KeptEntry[]>([]);

  constructor(kept: readonly KeptEntry[]) {
    this.all = kept;
  }

  /** Whether a formula is kept under its name, as it stands. */
  has({ name, formula }: KeptEntry): boolean {
    return this.all.some((entry) => entry.name === name && entry.formula === formula);
  }

  /** Keeps a formula, or keeps it no longer. @throws {Refusal} */
  async toggle({ name, formula }: KeptEntry): Promise<void> {
    const others = this.all.filter((entry) => entry.name !== name);
    if (this.has({ name, formula })) {
      await forgetEntry(fetch, name);
      this.all = others;
    } else this.all = [await keepEntry(fetch, { name, formula }), ...others];
  }
}
