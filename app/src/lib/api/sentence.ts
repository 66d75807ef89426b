/** A message as it stands on a page: with a capital and an end. */
export const sentence = (text: string): string =>
  text.charAt(0).toUpperCase() + text.slice(1) + (/[.?!…]$/.test(text) ? '' : '.');
