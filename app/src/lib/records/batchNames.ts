import { nameFor } from './shelfModel';

/** Whether files are joined to one tape a name, or make a tape each. */
export type Joining = 'join' | 'apart';

/** A file of several: its name, and from when to when its records run, where that is known. */
interface FileSpan {
  name: string;
  from?: string;
  to?: string;
}

const PARTS = [
  /\b\d{1,2}[-_. ]\d{1,2}[-_. ](19|20)?\d{2}\b/g,
  /\b(19|20)\d{2}([-_. ]?(q[1-4]|\d{2}([-_. ]?\d{2})?))?(?!\d)/gi,
  /\b(jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*\b/gi,
  /\b(part|file|copy|page)[-_. ]*\d*\b/gi,
  /[-_. ]*\(?\b\d{1,4}\b\)?$/g,
];

/** What stays of the name of a file without dates and numbers of parts: `kelp_2026-01.csv.gz` is of `kelp`. */
export function stemOf(name: string): string {
  let stem = name.replace(/(\.[a-z]{1,5}\d?)+$/i, '').replaceAll('_', ' ');
  for (const part of PARTS) stem = stem.replaceAll(part, ' ');
  return stem.replaceAll(/[^\p{L}\p{N}]+/gu, ' ').trim();
}

/** Joined where files of one stem follow on each other; apart where they run beside each other, or have stems of their own. */
export function proposedJoining(files: readonly FileSpan[]): Joining {
  const byStem = new Map<string, FileSpan[]>();
  for (const file of files) {
    const stem = stemOf(file.name).toLowerCase();
    byStem.set(stem, [...(byStem.get(stem) ?? []), file]);
  }
  const groups = [...byStem.values()].filter(({ length }) => length > 1);
  if (groups.length === 0) return 'apart';
  return groups.every(followOn) ? 'join' : 'apart';
}

function followOn(files: readonly FileSpan[]): boolean {
  const known = files.filter(({ from, to }) => from && to).sort((a, b) => (a.from! < b.from! ? -1 : 1));
  return known.every(({ from }, at) => at === 0 || from! >= known[at - 1].to!);
}

/** A name for the tape of each file, none of which is on the shelf. */
export function tapeNames(files: readonly FileSpan[], joining: Joining, shelf: readonly string[]): string[] {
  const taken = [...shelf];
  const byStem = new Map<string, string>();
  return files.map(({ name }) => {
    const stem = stemOf(name).toLowerCase();
    const known = joining === 'join' ? byStem.get(stem) : undefined;
    if (known !== undefined) return known;
    const tape = nameFor(joining === 'join' && stem !== '' ? stem : name, taken);
    taken.push(tape);
    byStem.set(stem, tape);
    return tape;
  });
}
