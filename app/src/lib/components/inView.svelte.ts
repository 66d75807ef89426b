/* What a reader looks at in this window: the tabs open other pages on the same tape, bars, column and stretch. */

interface InView {
  tape: string;
  /** Not said where a tape is shown as a whole: it then has its own natural bars. */
  bars?: string;
  entry?: string;
  /** Entries that `entry` uses. */
  uses?: readonly string[];
  /** First instant, and the one after the last; not said where all is in view. */
  from?: string;
  to?: string;
}

const KEY = 'jaunty-in-view';

let shown = $state.raw<InView>();

/** Notes what is looked at; it outlasts a reload. */
export function showInView(view: InView): void {
  shown = view;
  sessionStorage.setItem(KEY, JSON.stringify(view));
}

/** Reads what was looked at before a reload. */
export function restoreInView(): void {
  try {
    shown ??= JSON.parse(sessionStorage.getItem(KEY) ?? 'null') ?? undefined;
  } catch {
    sessionStorage.removeItem(KEY);
  }
}

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
  const query = new URLSearchParams();
  for (const field of fields) for (const value of [shown[field] ?? []].flat()) query.append(field, value);
  return `${path}?${query}`;
}
