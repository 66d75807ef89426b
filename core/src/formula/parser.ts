import { EmbeddedActionsParser, EOF, type IRecognitionException, type IToken } from 'chevrotain';
import { T, tokensOf, tokenTypes } from './lexer.js';
import { FormulaError, type BinaryOperator, type EntryNode, type Node, type OptionNode, type Span } from './tree.js';

/** Entries longer or deeper than these are refused: nobody writes them, and work grows with them. */
const LONGEST_ENTRY = 2000;
const DEEPEST_NESTING = 50;

// the toolkit learns the rules from a run without input, in which tokens have no image
const spanOf = ({ startOffset, image }: IToken): Span => ({
  start: startOffset,
  end: startOffset + (image?.length ?? 0),
});

/** The grammar; docs/notation.md writes it down for readers. */
class FormulaParser extends EmbeddedActionsParser {
  constructor() {
    super(tokenTypes, { maxLookahead: 2 });
    this.performSelfAnalysis();
  }

  readonly entry = this.RULE('entry', (): EntryNode => {
    const name = this.OPTION(() => {
      const token = this.CONSUME(T.Name);
      this.CONSUME(T.Equals);
      return token.image;
    });
    return { name, expression: this.SUBRULE(this.expression) };
  });

  private readonly expression = this.RULE('expression', (): Node => {
    let left = this.SUBRULE(this.conjunction);
    this.MANY(() => {
      this.CONSUME(T.Or);
      left = this.binary('or', left, this.SUBRULE2(this.conjunction));
    });
    return left;
  });

  private readonly conjunction = this.RULE('conjunction', (): Node => {
    let left = this.SUBRULE(this.negation);
    this.MANY(() => {
      this.CONSUME(T.And);
      left = this.binary('and', left, this.SUBRULE2(this.negation));
    });
    return left;
  });

  private readonly negation = this.RULE('negation', (): Node =>
    this.OR([
      {
        ALT: () => {
          const token = this.CONSUME(T.Not);
          const operand = this.SUBRULE(this.negation);
          return { kind: 'unary', operator: 'not', operand, start: token.startOffset, end: operand?.end };
        },
      },
      { ALT: () => this.SUBRULE(this.comparison) },
    ]),
  );

  private readonly comparison = this.RULE('comparison', (): Node => {
    let left = this.SUBRULE(this.sum);
    this.OPTION(() => {
      const operator = this.CONSUME(T.Compare).image as BinaryOperator;
      left = this.binary(operator, left, this.SUBRULE2(this.sum));
    });
    return left;
  });

  private readonly sum = this.RULE('sum', (): Node => {
    let left = this.SUBRULE(this.product);
    this.MANY(() => {
      const operator = this.OR([{ ALT: () => this.CONSUME(T.Plus) }, { ALT: () => this.CONSUME(T.Minus) }]).image;
      left = this.binary(operator as BinaryOperator, left, this.SUBRULE2(this.product));
    });
    return left;
  });

  private readonly product = this.RULE('product', (): Node => {
    let left = this.SUBRULE(this.signed);
    this.MANY(() => {
      const operator = this.OR([{ ALT: () => this.CONSUME(T.Times) }, { ALT: () => this.CONSUME(T.Divide) }]).image;
      left = this.binary(operator as BinaryOperator, left, this.SUBRULE2(this.signed));
    });
    return left;
  });

  private readonly signed = this.RULE('signed', (): Node =>
    this.OR([
      {
        ALT: () => {
          const token = this.CONSUME(T.Minus);
          const operand = this.SUBRULE(this.signed);
          return { kind: 'unary', operator: '-', operand, start: token.startOffset, end: operand?.end };
        },
      },
      { ALT: () => this.SUBRULE(this.power) },
    ]),
  );

  /** `2 ^ 3 ^ 2` is 2 to the ninth, and `-2 ^ 2` is -4, as it is written in books. */
  private readonly power = this.RULE('power', (): Node => {
    const base = this.SUBRULE(this.placed);
    const raised = this.OPTION(() => {
      this.CONSUME(T.Power);
      return this.SUBRULE(this.signed);
    });
    return raised ? this.binary('^', base, raised) : base;
  });

  private readonly placed = this.RULE('placed', (): Node => {
    let node = this.SUBRULE(this.value);
    this.MANY(() => {
      this.CONSUME(T.On);
      const { rule, at } = this.SUBRULE(this.barRule);
      const forming = this.OPTION(() => this.CONSUME(T.Forming));
      const end = forming ? spanOf(forming).end : at?.end;
      node = { kind: 'on', operand: node, rule, ruleAt: at, forming: !!forming, start: node?.start, end };
    });
    return node;
  });

  /** `1 hour`, `range 0.25`, or in brackets any rule, `(15 minutes, empty: carry)`. Its words are read by others. */
  private readonly barRule = this.RULE('barRule', (): { rule: string; at: Span } => {
    const words: IToken[] = [];
    let at: Span | undefined;
    this.OR([
      {
        ALT: () => {
          const open = this.CONSUME(T.Open);
          this.AT_LEAST_ONE(() =>
            words.push(
              this.OR2([
                { ALT: () => this.CONSUME(T.Number) },
                { ALT: () => this.CONSUME(T.Name) },
                { ALT: () => this.CONSUME(T.All) },
                { ALT: () => this.CONSUME(T.Comma) },
                { ALT: () => this.CONSUME(T.Colon) },
              ]),
            ),
          );
          at = { start: open.startOffset, end: spanOf(this.CONSUME(T.Close)).end };
        },
      },
      { ALT: () => words.push(this.CONSUME2(T.Number), this.CONSUME2(T.Name)) },
      { ALT: () => words.push(this.CONSUME3(T.Name), this.CONSUME3(T.Number)) },
    ]);
    at ??= { start: words[0].startOffset, end: spanOf(words[words.length - 1]).end };
    // a colon belongs to the word before it
    return {
      rule: words
        .map(({ image }) => image)
        .join(' ')
        .replaceAll(' :', ':')
        .replaceAll(' ,', ','),
      at,
    };
  });

  private readonly value = this.RULE('value', (): Node =>
    this.OR([
      { ALT: () => this.SUBRULE(this.quantity) },
      {
        ALT: () => {
          const token = this.CONSUME(T.Text);
          return { kind: 'text', text: token.image?.slice(1, -1), ...spanOf(token) };
        },
      },
      { ALT: () => this.SUBRULE(this.thisWindow) },
      { ALT: () => ({ kind: 'all', ...spanOf(this.CONSUME(T.All)) }) },
      { ALT: () => this.SUBRULE(this.list) },
      { ALT: () => this.SUBRULE(this.nameOrCall) },
      {
        ALT: () => {
          const open = this.CONSUME(T.Open);
          const inner = this.SUBRULE(this.expression);
          const close = this.CONSUME(T.Close);
          return { ...inner, start: open.startOffset, end: close.startOffset + 1 };
        },
      },
    ]),
  );

  private readonly quantity = this.RULE('quantity', (): Node => {
    const number = this.CONSUME(T.Number);
    const value = Number(number.image);
    const unit = this.OPTION(() => this.CONSUME(T.Name));
    if (!unit) return { kind: 'number', value, ...spanOf(number) };
    return {
      kind: 'quantity',
      amount: value,
      unit: unit.image,
      unitAt: spanOf(unit),
      start: number.startOffset,
      end: spanOf(unit).end,
    };
  });

  private readonly thisWindow = this.RULE('thisWindow', (): Node => {
    const word = this.CONSUME(T.This);
    const period = this.CONSUME(T.Name);
    return {
      kind: 'this',
      period: period.image,
      periodAt: spanOf(period),
      start: word.startOffset,
      end: spanOf(period).end,
    };
  });

  private readonly list = this.RULE('list', (): Node => {
    const open = this.CONSUME(T.OpenList);
    const items: Node[] = [];
    this.AT_LEAST_ONE_SEP({ SEP: T.Comma, DEF: () => items.push(this.SUBRULE(this.expression)) });
    const close = this.CONSUME(T.CloseList);
    const unit = this.OPTION(() => this.CONSUME(T.Name));
    const end = spanOf(unit ?? close).end;
    return { kind: 'list', items, unit: unit?.image, unitAt: unit && spanOf(unit), start: open.startOffset, end };
  });

  private readonly nameOrCall = this.RULE('nameOrCall', (): Node => {
    const name = this.CONSUME(T.Name);
    return this.OR([
      {
        ALT: () => {
          const args: Node[] = [];
          const options: OptionNode[] = [];
          this.CONSUME(T.Open);
          this.MANY_SEP({
            SEP: T.Comma,
            DEF: () => {
              const optionName = this.OPTION(() => {
                const token = this.CONSUME3(T.Name);
                this.CONSUME(T.Colon);
                return token;
              });
              const value = this.SUBRULE(this.expression);
              if (optionName) options.push({ name: optionName.image, nameAt: spanOf(optionName), value });
              else args.push(value);
            },
          });
          const close = this.CONSUME(T.Close);
          const start = name.startOffset;
          const call: Node = {
            kind: 'call',
            name: name.image,
            nameAt: spanOf(name),
            args,
            options,
            start,
            end: close.startOffset + 1,
          };
          const part = this.OPTION2(() => {
            this.CONSUME2(T.Dot);
            return this.CONSUME4(T.Name);
          });
          if (!part) return call;
          return { kind: 'part', call, part: part.image, partAt: spanOf(part), start, end: spanOf(part).end };
        },
      },
      {
        ALT: () => {
          this.CONSUME(T.Dot);
          const part = this.CONSUME2(T.Name);
          return { kind: 'name', name: name.image, part: part.image, start: name.startOffset, end: spanOf(part).end };
        },
      },
      { ALT: () => ({ kind: 'name', name: name.image, ...spanOf(name) }) },
    ]);
  });

  private binary(operator: BinaryOperator, left: Node, right: Node): Node {
    // the toolkit runs each rule once without input to learn it: there is no left or right then
    return { kind: 'binary', operator, left, right, start: left?.start, end: right?.end };
  }
}

const parser = new FormulaParser();

/**
 * Reads one entry, `name = expression` or an expression alone.
 * @throws {FormulaError} with the position and what would be right there
 */
export function parseEntry(text: string): EntryNode {
  if (text.length > LONGEST_ENTRY)
    throw new FormulaError(`an entry has at most ${LONGEST_ENTRY} characters, this one ${text.length}`, LONGEST_ENTRY);
  const tokens = tokensOf(text);
  if (tokens.length === 0) throw new FormulaError('a formula is needed, such as `mean(close, 20 bars)`', 0);
  refuseDeep(tokens);
  refuseLarge(tokens);
  parser.input = tokens;
  const entry = parser.entry();
  const [error] = parser.errors;
  if (error) throw explained(error, text);
  return entry;
}

/** A literal beyond the range of doubles would be infinite. */
function refuseLarge(tokens: IToken[]): void {
  const large = tokens.find(({ tokenType, image }) => tokenType === T.Number && !Number.isFinite(Number(image)));
  if (large) throw new FormulaError('a number is at most 1.8e308', large.startOffset, large.image.length);
}

/** Before the parser runs: it recurses, so a very deep formula would exhaust the stack. */
function refuseDeep(tokens: IToken[]): void {
  let depth = 0;
  let signs = 0;
  for (const token of tokens) {
    const { tokenType } = token;
    if (tokenType === T.Open || tokenType === T.OpenList) depth++;
    if (tokenType === T.Close || tokenType === T.CloseList) depth--;
    signs = tokenType === T.Minus || tokenType === T.Not ? signs + 1 : 0;
    if (depth + signs > DEEPEST_NESTING)
      throw new FormulaError(
        `a formula goes at most ${DEEPEST_NESTING} levels deep; give parts of it names of their own`,
        token.startOffset,
      );
  }
}

const WANTED: Record<string, string> = {
  Close: 'a closing `)`',
  CloseList: 'a closing `]`',
  Colon: 'a `:`',
};

function explained(error: IRecognitionException, text: string): FormulaError {
  const { token, name } = error;
  const atEnd = token.tokenType === EOF;
  const position = atEnd ? text.trimEnd().length : token.startOffset;
  const found = atEnd ? 'the formula ends here' : `\`${token.image}\` stands here`;
  const length = atEnd ? 1 : token.image.length;
  if (token.tokenType === T.Equals)
    return new FormulaError(
      'a name is given once, at the beginning: `name = formula`; to compare, write `==`',
      position,
      length,
    );
  if (name === 'MismatchedTokenException') {
    // the toolkit keeps the expected token only in its message
    const expected = /type --> (\w+) <--/.exec(error.message)?.[1] ?? '';
    if (error.context.ruleStack.at(-1) === 'thisWindow')
      return new FormulaError('after `this` comes session, day, week, month or year', position, length);
    return new FormulaError(`${WANTED[expected] ?? 'something else'} is missing; ${found}`, position, length);
  }
  if (name === 'NotAllInputParsedException') {
    const said =
      token.tokenType === T.Close
        ? 'this `)` closes nothing'
        : `\`${token.image}\` does not go on from what stands before it; an operator or a comma may be missing`;
    return new FormulaError(said, position, length);
  }
  if (error.context.ruleStack.at(-1) === 'barRule')
    return new FormulaError(
      `after \`on\` come bars, such as \`on 1 hour\` or \`on (15 minutes, empty: carry)\`; ${found}`,
      position,
      length,
    );
  return new FormulaError(
    `a value is missing, such as \`close\`, \`20\` or \`mean(close, 20 bars)\`; ${found}`,
    position,
    length,
  );
}
