import { T, tokensOf } from './lexer.js';
import { FormulaError, type Span } from './tree.js';

/** A number as it stands in a formula, and what it counts. */
export interface NumberInText extends Span {
  value: number;
  /** `bars`, `minutes` or the option it is the value of; empty for a bare number. */
  of: string;
}

/** The words of a formula: columns, entries, functions, options. Empty where the text has no meaning at all. */
export function wordsIn(text: string): Set<string> {
  return new Set(readTokens(text).flatMap(({ tokenType, image }) => (tokenType === T.Name ? [image] : [])));
}

/** The numbers of a formula in their order, for turning them by hand. Empty where the text has no meaning at all. */
export function numbersIn(text: string): NumberInText[] {
  const tokens = readTokens(text);
  return tokens.flatMap((token, index) => {
    if (token.tokenType !== T.Number) return [];
    const after = tokens[index + 1];
    const [option, colon] = [tokens[index - 2], tokens[index - 1]];
    const of = after?.tokenType === T.Name ? after.image : colon?.tokenType === T.Colon ? option.image : '';
    return [{ value: Number(token.image), of, start: token.startOffset, end: token.startOffset + token.image.length }];
  });
}

function readTokens(text: string): ReturnType<typeof tokensOf> {
  try {
    return tokensOf(text);
  } catch (error) {
    if (!(error instanceof FormulaError)) throw error;
    return []; // a text that is being written: it is explained where it is checked
  }
}
