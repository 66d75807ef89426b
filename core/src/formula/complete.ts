import { catalogue } from '../catalogue/catalogue.js';
import { commonWordsFrom } from '../catalogue/commonWords.js';
import type { FunctionEntry } from '../catalogue/functionEntry.js';

/** Something that may stand at a place of a formula. */
export interface Completion {
  /** What is put in the place of the word that was begun. */
  text: string;
  /** Where the cursor goes in it. */
  cursor: number;
  /** What it is, in a few words. */
  says: string;
}

/** The word under way, and what could become of it. */
export interface Completions {
  start: number;
  end: number;
  items: Completion[];
}

const MOST_ITEMS = 12;
const WINDOWS = ['20 bars', '30 minutes', '1 day', '12 months', 'this session', 'this week', 'all'];

/**
 * What could be written at a place of a formula.
 * @param position  characters from its beginning
 * @param names     columns and entries that there are, with a few words on each; a whole entry, `name = formula`, is
 *   offered where an entry begins
 * @param texts     text columns, which `each` may group by, with their words
 */
export function completionsAt(
  text: string,
  position: number,
  names: ReadonlyMap<string, string>,
  texts: ReadonlyMap<string, readonly string[]> = new Map(),
): Completions {
  const before = text.slice(0, position);
  const word = /[A-Za-z_][\w.]*$/.exec(before)?.[0] ?? '';
  const after = /^[\w.]*/.exec(text.slice(position))?.[0] ?? '';
  const quoted = /([A-Za-z_]\w*)\s*[=!]=\s*"([^"]*)$/.exec(before);
  if (quoted)
    return wordsAt(position, quoted[2], texts.get(quoted[1]) ?? [], /^[^"]*"?/.exec(text.slice(position))![0]);
  let start = position - word.length;
  const call = openCall(before.slice(0, start));
  const items: Completion[] = [];
  if (call && !call.option && call.entry.parameters[call.argument]?.kind === 'window') {
    const begun = /[^,(]*$/.exec(before)![0].trimStart();
    start = position - begun.length;
    const count = /^(\d+(?:\.\d+)?)/.exec(begun)?.[1];
    const windows =
      count === undefined
        ? WINDOWS
        : ['bars', 'minutes', 'hours', 'days', 'months', 'years'].map((unit) => `${count} ${unit}`);
    for (const window of windows)
      if (window.startsWith(begun) && window !== begun)
        items.push({ text: window, cursor: window.length, says: saysOf(window) });
    // options stand in the place of a window that may be left out
    const { entry } = call;
    const parameter = entry.parameters[call.argument];
    if (parameter.kind === 'window' && !parameter.required)
      for (const [name, { says }] of Object.entries(entry.options))
        if (name.startsWith(begun)) items.push({ text: `${name}: `, cursor: name.length + 2, says });
    return { start, end: position + after.length, items };
  }
  const offer = (full: string, says: string, cursor = full.length) => {
    if (full.toLowerCase().startsWith(word.toLowerCase()) && full !== word) items.push({ text: full, cursor, says });
  };
  if (call) {
    const { entry, argument, option } = call;
    if (option)
      for (const choice of wordsOf(entry, option, [...texts.keys()])) offer(choice, `${option} of ${entry.name}`);
    else {
      const parameter = entry.parameters[argument];
      if (!parameter || argument > 0) {
        for (const [name, { says }] of Object.entries(entry.options)) offer(`${name}: `, says);
        if (!entry.rowwise) offer('each: ', 'runs in each group by itself');
      }
      if (!parameter && items.length > 0)
        return { start, end: position + after.length, items: items.slice(0, MOST_ITEMS) };
    }
  }
  if (!call?.option) {
    for (const [name, says] of names) if (start === 0 || !isEntry(name)) offer(name, says);
    for (const [name, [first = '']] of texts) offer(`${name} == ""`, `words, such as ${first}`, name.length + 5);
    for (const entry of catalogue.values()) {
      const takes = entry.parameters.length > 0;
      offer(takes ? `${entry.name}()` : entry.name, entry.sentence, entry.name.length + (takes ? 1 : 0));
    }
    for (const [common, name] of commonWordsFrom(word)) {
      const text = `${name}()`;
      const entry = catalogue.get(name);
      if (entry && !items.some((item) => item.text === text))
        items.push({ text, cursor: name.length + 1, says: `${common}: ${entry.sentence}` });
    }
  }
  // where nothing was begun, what is near is offered and not the whole catalogue
  const near = word || call ? items : items.filter(({ text: full }) => isEntry(full));
  return { start, end: position + after.length, items: near.slice(0, MOST_ITEMS) };
}

/** Words of a text column, where one is begun in quotes. */
function wordsAt(position: number, begun: string, words: readonly string[], after: string): Completions {
  const items = words
    .filter((word) => word.toLowerCase().startsWith(begun.toLowerCase()) && !word.includes('"'))
    .slice(0, MOST_ITEMS)
    .map((word) => ({ text: `${word}"`, cursor: word.length + 1, says: 'a word of the column' }));
  return { start: position - begun.length, end: position + after.length, items };
}

const saysOf = (window: string): string => {
  if (/ bars$/.test(window)) return 'so many rows';
  if (/ (minutes|hours)$/.test(window)) return 'time by the clock';
  return / (day|days)$/.test(window) ? 'calendar days of 24 hours, nights and weekends included' : 'by the calendar';
};

const isEntry = (name: string): boolean => name.includes(' = ');

function wordsOf(entry: FunctionEntry, option: string, texts: readonly string[]): readonly string[] {
  if (option === 'each') return ['session', 'day', 'week', ...texts];
  const rule = Object.hasOwn(entry.options, option) ? entry.options[option] : undefined;
  return rule?.kind === 'word' ? rule.words : [];
}

/** The innermost call that is still open: its function, which argument one is at, and the option one has begun. */
function openCall(before: string): { entry: FunctionEntry; argument: number; option: string | undefined } | undefined {
  let depth = 0;
  let argument = 0;
  for (let at = before.length - 1; at >= 0; at--) {
    const mark = before[at];
    if (mark === ')' || mark === ']') depth++;
    else if (mark === '[' && depth > 0) depth--;
    else if (mark === ',' && depth === 0) argument++;
    else if (mark === '(' && depth > 0) depth--;
    else if (mark === '(') {
      const name = /([A-Za-z_]\w*)\s*$/.exec(before.slice(0, at))?.[1];
      const entry = name === undefined ? undefined : catalogue.get(name);
      if (!entry) return undefined;
      const option = /(\w+):\s*$/.exec(before)?.[1];
      return { entry, argument, option };
    }
  }
  return undefined;
}
