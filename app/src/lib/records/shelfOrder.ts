import type { ShelfLine } from '$lib/api/shelf';

export type SortColumn = 'name' | 'kind' | 'rows' | 'from' | 'to' | 'state';

/** What of the shelf is shown, and in which order. */
export interface ShelfView {
  /** Words, each of which a line has somewhere. */
  text: string;
  /** Kinds that are shown; all where it is empty. */
  kind: string;
  tag: string;
  sort: SortColumn;
  descending: boolean;
}

export const WHOLE_SHELF: ShelfView = { text: '', kind: '', tag: '', sort: 'name', descending: false };

/** A line in its place; `isFurther` says that it is of the instrument of the line before. */
interface PlacedLine {
  line: ShelfLine;
  isFurther: boolean;
}

const SUFFIX =
  /_(trades|ticks|quotes|seconds|minutes|hours|days|weeks|months|quarters|years|daily|weekly|monthly|\d+(s|m|h|d|min|sec))$/i;

/** The instrument of a tape, by its name: `KELP_minutes` is of `kelp`. */
export const instrumentOf = (name: string): string => name.replace(SUFFIX, '').toLowerCase();

/** Lines that a view shows, those of one instrument beside each other, groups in the order of their first line. */
export function arranged(lines: readonly ShelfLine[], view: ShelfView): PlacedLine[] {
  const words = view.text.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = lines.filter((line) => {
    if (view.kind && line.kind !== view.kind) return false;
    if (view.tag && !line.tags.includes(view.tag)) return false;
    const text = `${line.name} ${line.note} ${line.tags.join(' ')} ${line.calendar ?? ''}`.toLowerCase();
    return words.every((word) => text.includes(word));
  });
  const sign = view.descending ? -1 : 1;
  const compare = (a: ShelfLine, b: ShelfLine) => sign * compareBy(a, b, view.sort) || collator.compare(a.name, b.name);
  shown.sort(compare);
  const groups = new Map<string, ShelfLine[]>();
  for (const line of shown) {
    const instrument = instrumentOf(line.name);
    const group = groups.get(instrument);
    if (group) group.push(line);
    else groups.set(instrument, [line]);
  }
  return [...groups.values()].flatMap((group) => group.map((line, at) => ({ line, isFurther: at > 0 })));
}

const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });

function compareBy(a: ShelfLine, b: ShelfLine, column: SortColumn): number {
  switch (column) {
    case 'name':
      return collator.compare(a.name, b.name);
    case 'kind':
      return collator.compare(`${a.kind} ${a.interval ?? ''}`, `${b.kind} ${b.interval ?? ''}`);
    case 'rows':
      return a.rows - b.rows;
    case 'state':
      return a.leftOut + a.flagged - (b.leftOut + b.flagged);
    default:
      return a[column] < b[column] ? -1 : a[column] > b[column] ? 1 : 0;
  }
}

/** Words that tapes are found by, the most used first. */
export function tagsOf(lines: readonly ShelfLine[]): string[] {
  const counts = new Map<string, number>();
  for (const { tags } of lines) for (const tag of tags) counts.set(tag, (counts.get(tag) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || collator.compare(a[0], b[0])).map(([tag]) => tag);
}
