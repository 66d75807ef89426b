/** A stretch of the formula's text, as [start, end) characters from 0. */
export interface Span {
  start: number;
  end: number;
}

export type UnaryOperator = '-' | 'not';
export type BinaryOperator = '+' | '-' | '*' | '/' | '^' | '<' | '<=' | '>' | '>=' | '==' | '!=' | 'and' | 'or';

/** What the parser makes of a formula. Nothing in it is looked up yet. */
export type Node = Span &
  (
    | { kind: 'number'; value: number }
    /** A word of a text column, in quotes. */
    | { kind: 'text'; text: string }
    | { kind: 'quantity'; amount: number; unit: string; unitAt: Span }
    | { kind: 'this'; period: string; periodAt: Span }
    | { kind: 'all' }
    | { kind: 'name'; name: string; part?: string }
    | { kind: 'list'; items: Node[]; unit?: string; unitAt?: Span }
    | { kind: 'unary'; operator: UnaryOperator; operand: Node }
    | { kind: 'binary'; operator: BinaryOperator; left: Node; right: Node }
    | { kind: 'call'; name: string; nameAt: Span; args: Node[]; options: OptionNode[] }
    | { kind: 'part'; call: Node; part: string; partAt: Span }
    /** The operand on bars of another rule, as it is written. */
    | { kind: 'on'; operand: Node; rule: string; ruleAt: Span; forming: boolean }
  );

export interface OptionNode {
  name: string;
  nameAt: Span;
  value: Node;
}

/** The nodes right under a node. */
export function childrenOf(node: Node): Node[] {
  switch (node.kind) {
    case 'unary':
    case 'on':
      return [node.operand];
    case 'part':
      return [node.call];
    case 'binary':
      return [node.left, node.right];
    case 'call':
      return [...node.args, ...node.options.map((option) => option.value)];
    default:
      return [];
  }
}

/** The node with another one in the place of each of its children. */
export function withChildren(node: Node, swap: (child: Node) => Node): Node {
  switch (node.kind) {
    case 'unary':
    case 'on':
      return { ...node, operand: swap(node.operand) };
    case 'part':
      return { ...node, call: swap(node.call) };
    case 'binary':
      return { ...node, left: swap(node.left), right: swap(node.right) };
    case 'call':
      return {
        ...node,
        args: node.args.map(swap),
        options: node.options.map((option) => ({ ...option, value: swap(option.value) })),
      };
    default:
      return node;
  }
}

/** Every name in a formula, whatever it may stand for. */
export function namesIn(node: Node): Set<string> {
  const names = new Set<string>();
  const waiting = [node];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    if (next.kind === 'name') names.add(next.name);
    waiting.push(...childrenOf(next));
  }
  return names;
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

/** @throws {FormulaError} at a place */
export function fail(message: string, { start, end }: Span): never {
  throw new FormulaError(message, start, Math.max(1, end - start));
}
