/**
 * Names in at most so many characters that are still told apart: what all begin or end with is left out where the rest says
 * enough, and long ones lose their middle, not their ends.
 */
export function shortNames(names: readonly string[], most: number): string[] {
  if (names.every((name) => name.length <= most)) return [...names];
  const start = shared(names);
  const end = shared(names.map(reversed));
  const cut = names.map((name) => name.slice(start, name.length - end));
  return (cut.every((name) => name !== '') ? cut : names).map((name) => withoutMiddle(name, most));
}

/** Characters that all begin with, up to the end of a word. */
function shared(names: readonly string[]): number {
  const [first, ...others] = names;
  if (others.length === 0) return 0;
  let length = 0;
  while (length < first.length && others.every((name) => name[length] === first[length])) length++;
  while (length > 0 && /[\p{L}\p{N}]/u.test(first[length - 1])) length--;
  return length;
}

const reversed = (text: string) => [...text].reverse().join('');

function withoutMiddle(name: string, most: number): string {
  if (name.length <= most) return name;
  const behind = Math.floor((most - 1) / 2);
  return `${name.slice(0, most - 1 - behind)}…${name.slice(name.length - behind)}`;
}
