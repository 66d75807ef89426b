import { untrack } from 'svelte';
import { z } from 'zod';
import { keepText, parsedJson } from '$lib/api/browserStorage';

/* What a reader looks at in this window: the tabs open other pages on the same tape, bars, column and stretch. */

const InView = z.object({
  tape: z.string(),
  /** Not set where a tape is shown as a whole: it then has its own natural bars. */
  bars: z.string().optional(),
  entry: z.string().optional(),
  /** Entries that `entry` uses. */
  uses: z.array(z.string()).optional(),
  /** First instant, and the one after the last; not set where all is in view. */
  from: z.string().optional(),
  to: z.string().optional(),
  /** The ledger of the tape that was open last. */
  ledger: z.number().optional(),
});
export type InView = z.infer<typeof InView>;

const KEY = 'jaunty-in-view';

let shown = $state.raw<InView>();

/** Notes what is looked at; it survives a reload. */
export function showInView(view: InView): void {
  const before = untrack(() => shown); // pages note it in effects, which do not run again for it
  // other pages on the same tape lead back to its ledger
  const ledger = view.ledger ?? (before?.tape === view.tape ? before.ledger : undefined);
  shown = { ...view, ledger };
  keepText(sessionStorage, KEY, JSON.stringify({ ...view, ledger }));
}

/** Reads what was looked at before a reload. */
export function restoreInView(): void {
  if (untrack(() => shown) === undefined)
    shown = InView.safeParse(parsedJson(sessionStorage.getItem(KEY) ?? 'null')).data;
}

/** Forgets what was looked at: it may be gone, and the tabs lead to what there is. */
export function forgetInView(): void {
  shown = undefined;
  sessionStorage.removeItem(KEY);
}

/** What is looked at; nothing before anything was. */
export const whatIsInView = (): InView | undefined => shown;

/** What of it each page takes. */
const TAKES: Record<string, readonly (keyof InView)[]> = {
  '/ledger': ['tape'],
  '/examine': ['tape', 'bars', 'entry', 'uses', 'from', 'to'],
  '/project': ['tape', 'bars', 'entry', 'uses', 'from', 'to'],
  '/compare': ['tape', 'bars', 'from', 'to'],
};

/** The address of a page on what is looked at. */
export function addressInView(path: string): string {
  const fields = TAKES[path];
  if (!shown || !fields) return path;
  if (path === '/ledger' && shown.ledger !== undefined) return `/ledger/${shown.ledger}`;
  const query = new URLSearchParams();
  for (const field of fields) for (const value of [shown[field] ?? []].flat()) query.append(field, String(value));
  return `${path}?${query}`;
}
