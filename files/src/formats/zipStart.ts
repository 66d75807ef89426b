/* What the first bytes of a zip tell. */

/** Names that the first part of an Office Open XML file has; any other zip begins with a file of the user's own. */
const FIRST_PART = /^(\[Content_Types\]\.xml|_rels\/|xl\/|docProps\/)/;

/** Whether a zip begins as a spreadsheet does. @param start  its first bytes */
export const isSpreadsheet = (start: Uint8Array): boolean => FIRST_PART.test(firstNameOf(start));

/** The name of the first file in a zip; empty where there is none. */
export function firstNameOf(start: Uint8Array): string {
  if (start[0] !== 0x50 || start[1] !== 0x4b || start[2] !== 3 || start.length < 30) return '';
  const length = start[26] + 256 * start[27];
  return new TextDecoder('latin1').decode(start.subarray(30, 30 + length));
}
