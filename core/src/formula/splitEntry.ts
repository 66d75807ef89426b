/** Name and formula of an entry as it is written, whether it can be read or not; a formula alone has no name. */
export function splitEntry(text: string): { name: string; formula: string; formulaAt: number } {
  const match = /^\s*([A-Za-z_]\w*)\s*=(?!=)\s*/.exec(text);
  return match
    ? { name: match[1], formula: text.slice(match[0].length), formulaAt: match[0].length }
    : { name: '', formula: text, formulaAt: 0 };
}
