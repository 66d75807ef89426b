import { createToken, Lexer } from 'chevrotain';
import { FormulaError } from './tree.js';

const Name = createToken({ name: 'Name', pattern: /[A-Za-z_][A-Za-z0-9_]*/ });
const keyword = (name: string, word: string) => createToken({ name, pattern: new RegExp(word), longer_alt: Name });

/** The words of the notation. Longer marks stand before the shorter ones that begin them. */
export const T = {
  Space: createToken({ name: 'Space', pattern: /\s+/, group: Lexer.SKIPPED }),
  Text: createToken({ name: 'Text', pattern: /"[^"\n]*"|'[^'\n]*'/ }),
  Number: createToken({ name: 'Number', pattern: /(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?/ }),
  And: keyword('And', 'and'),
  Or: keyword('Or', 'or'),
  Not: keyword('Not', 'not'),
  This: keyword('This', 'this'),
  All: keyword('All', 'all'),
  On: keyword('On', 'on'),
  Forming: keyword('Forming', 'forming'),
  Name,
  Compare: createToken({ name: 'Compare', pattern: /<=|>=|==|!=|<|>/ }),
  Equals: createToken({ name: 'Equals', pattern: /=/ }),
  Plus: createToken({ name: 'Plus', pattern: /\+/ }),
  Minus: createToken({ name: 'Minus', pattern: /-/ }),
  Times: createToken({ name: 'Times', pattern: /\*/ }),
  Divide: createToken({ name: 'Divide', pattern: /\// }),
  Power: createToken({ name: 'Power', pattern: /\^/ }),
  Open: createToken({ name: 'Open', pattern: /\(/ }),
  Close: createToken({ name: 'Close', pattern: /\)/ }),
  OpenList: createToken({ name: 'OpenList', pattern: /\[/ }),
  CloseList: createToken({ name: 'CloseList', pattern: /\]/ }),
  Comma: createToken({ name: 'Comma', pattern: /,/ }),
  Colon: createToken({ name: 'Colon', pattern: /:/ }),
  Dot: createToken({ name: 'Dot', pattern: /\./ }),
} as const;

export const tokenTypes = Object.values(T);

const lexer = new Lexer(tokenTypes, { positionTracking: 'onlyOffset' });

/** @throws {FormulaError} at the first character that belongs to no word of the notation */
export function tokensOf(text: string) {
  const { tokens, errors } = lexer.tokenize(text);
  if (errors.length > 0) {
    const { offset } = errors[0];
    throw new FormulaError(`\`${text[offset]}\` has no meaning in a formula`, offset);
  }
  return tokens;
}
