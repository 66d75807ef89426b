/** Which paper the book is printed on: the system's choice until the reader makes one. */
type Paper = 'day' | 'night';

const KEY = 'paper';

class PaperState {
  shown = $state<Paper>('day');
}

export const paper = new PaperState();

function chosen(): Paper | undefined {
  const kept = localStorage.getItem(KEY);
  return kept === 'day' || kept === 'night' ? kept : undefined;
}

function show(which: Paper): void {
  paper.shown = which;
  document.documentElement.dataset.paper = which;
}

/** Follows the system's choice as long as the reader has made none. */
export function followPaper(): () => void {
  const dark = matchMedia('(prefers-color-scheme: dark)');
  const follow = () => show(chosen() ?? (dark.matches ? 'night' : 'day'));
  follow();
  dark.addEventListener('change', follow);
  return () => dark.removeEventListener('change', follow);
}

export function turnPaper(): void {
  const other = paper.shown === 'day' ? 'night' : 'day';
  localStorage.setItem(KEY, other);
  show(other);
}
