/* A walk over the tags of XML in linear time: it refuses what is not well formed before a slower reader meets it. */

/** Parts of a workbook nest about ten deep. */
const MAX_DEPTH = 64;

export interface XmlTag {
  /** The local name, without its prefix. */
  name: string;
  kind: 'open' | 'close' | 'empty';
  /** What stands between the name and the end of the tag. */
  attributes: string;
  /** Positions of the tag's first character, and of the one after its last. */
  start: number;
  end: number;
}

/** Markup that holds no tags, by how it begins and ends. */
const OPAQUE = [
  ['<!--', '-->'],
  ['<![CDATA[', ']]>'],
  ['<?', '?>'],
] as const;

/**
 * Visits each tag of a document in order, CDATA, comments and instructions left out.
 * @returns what is wrong with the document, undefined if each tag ends and is closed by one of its name
 */
export function visitTags(text: string, visit: (tag: XmlTag) => void): string | undefined {
  const open: string[] = [];
  for (let start = text.indexOf('<'); start >= 0;) {
    const opaque = OPAQUE.find(([begin]) => text.startsWith(begin, start));
    const end = opaque ? endAfter(text, opaque[1], start) : endAfter(text, '>', start);
    if (end === 0) return `a tag that does not end at character ${start + 1}`;
    const next = text.indexOf('<', opaque ? end : start + 1);
    if (!opaque) {
      if (next >= 0 && next < end) return `a tag inside a tag at character ${start + 1}`;
      const closes = text[start + 1] === '/';
      const isEmpty = text[end - 2] === '/';
      const inside = text.slice(start + (closes ? 2 : 1), end - (isEmpty ? 2 : 1));
      const full = /^[^\s/]*/.exec(inside)![0];
      if (closes) {
        if (open.pop() !== full) return `a closing tag of ${full.slice(0, 40)} that was not open`;
      } else if (!isEmpty && !inside.startsWith('!')) {
        if (open.push(full) > MAX_DEPTH) return `more than ${MAX_DEPTH} tags inside each other`;
      }
      const name = full.slice(full.indexOf(':') + 1);
      const kind = closes ? 'close' : isEmpty ? 'empty' : 'open';
      visit({ name, kind, attributes: inside.slice(full.length), start, end });
    }
    start = next;
  }
  return open.length > 0 ? `a tag ${open.at(-1)!.slice(0, 40)} that is not closed` : undefined;
}

/** @returns the position after the next `ending`, 0 if there is none */
function endAfter(text: string, ending: string, from: number): number {
  return text.indexOf(ending, from) < 0 ? 0 : text.indexOf(ending, from) + ending.length;
}
