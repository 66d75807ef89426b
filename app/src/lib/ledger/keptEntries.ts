import { z } from 'zod';

/** A formula that is kept for other ledgers. */
const KeptEntry = z.object({ name: z.string(), formula: z.string() });
type KeptEntry = z.infer<typeof KeptEntry>;

const KEY = 'jaunty-kept-entries';

/** Formulas that were kept in this browser, the newest first. */
export function keptEntries(): KeptEntry[] {
  const text = typeof localStorage === 'undefined' ? null : localStorage.getItem(KEY);
  if (text === null) return [];
  try {
    return z.array(KeptEntry).parse(JSON.parse(text));
  } catch {
    return []; // written by something else
  }
}

export function keepEntry({ name, formula }: KeptEntry): void {
  const others = keptEntries().filter((kept) => kept.name !== name && kept.formula !== formula);
  localStorage.setItem(KEY, JSON.stringify([{ name, formula }, ...others].slice(0, 100)));
}
