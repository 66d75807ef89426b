/** The known word that a mistyped one is likely to mean, if any is near: at most two letters apart. */
export function nearestWord(word: string, known: Iterable<string>): string | undefined {
  let best: string | undefined;
  let fewest = Math.min(2, word.length - 1) + 1;
  for (const candidate of known) {
    if (candidate === word) continue;
    const apart = lettersApart(word.toLowerCase(), candidate.toLowerCase());
    if (apart < fewest) {
      fewest = apart;
      best = candidate;
    }
  }
  return best;
}

/** Levenshtein 1966: letters put in, left out or changed. */
function lettersApart(a: string, b: string): number {
  let previous = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const row = [i];
    for (let j = 1; j <= b.length; j++)
      row.push(Math.min(previous[j] + 1, row[j - 1] + 1, previous[j - 1] + (a[i - 1] === b[j - 1] ? 0 : 1)));
    previous = row;
  }
  return previous[b.length];
}
