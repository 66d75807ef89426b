/**
 * Short forms of names, all different: a beginning or end that all have in common is left out, and long names lose their middle.
 * @param most  characters of a name, where so few tell them apart
 */
export function shortNames(names: readonly string[], most: number): string[] {
  if (names.every((name) => name.length <= most)) return [...names];
  const start = shared(names);
  const end = shared(names.map(reversed));
  const cut = names.map((name) => name.slice(start, name.length - end));
  const distinct = cut.every((name) => name !== '') ? cut : names;
  const short = distinct.map((name) => withoutMiddle(name, most));
  return new Set(short).size === new Set(names).size ? short : [...distinct];
}

/** Length of the common prefix, up to the end of a word. */
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
