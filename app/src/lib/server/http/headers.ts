/** Headers of every answer. */
export const ANSWER_HEADERS: readonly (readonly [string, string])[] = [
  ['x-content-type-options', 'nosniff'],
  ['referrer-policy', 'same-origin'],
  ['cross-origin-resource-policy', 'same-origin'],
  // only a page of its own may share memory with its workers, which is how they learn that they should stop
  ['cross-origin-opener-policy', 'same-origin'],
  ['cross-origin-embedder-policy', 'require-corp'],
];
