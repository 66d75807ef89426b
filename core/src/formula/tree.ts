/** A stretch of the formula's text, as [start, end) characters from 0. */
export interface Span {
  start: number;
  end: number;
}

export type UnaryOperator = '-' | 'not';
export type BinaryOperator = '+' | '-' | '*' | '/' | '<' | '<=' | '>' | '>=' | '==' | '!=' | 'and' | 'or';

/** What the parser makes of a formula. Nothing in it is looked up yet. */
export type Node = Span &
  (
    | { kind: 'number'; value: number }
    | { kind: 'quantity'; amount: number; unit: string; unitAt: Span }
    | { kind: 'this'; period: string; periodAt: Span }
    | { kind: 'all' }
    | { kind: 'name'; name: string; part?: string }
    | { kind: 'list'; items: Node[]; unit?: string; unitAt?: Span }
    | { kind: 'unary'; operator: UnaryOperator; operand: Node }
    | { kind: 'binary'; operator: BinaryOperator; left: Node; right: Node }
    | { kind: 'call'; name: string; nameAt: Span; args: Node[]; options: OptionNode[] }
  );

export interface OptionNode {
  name: string;
  nameAt: Span;
  value: Node;
}

/** One entry: an expression, with the name it is given. */
export interface EntryNode {
  name: string | undefined;
  expression: Node;
}

/** A formula that cannot be read or does not make sense, with the place and what would be right. */
export class FormulaError extends Error {
  override readonly name = 'FormulaError';
  /** Which of the entries it is in: its place among them, and its text. */
  entryIndex = 0;
  entry = '';
  constructor(
    message: string,
    /** Characters from the beginning of the entry. */
    readonly position: number,
    readonly length = 1,
  ) {
    super(message);
  }
}
