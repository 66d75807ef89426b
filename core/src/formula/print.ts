import type { BinaryOperator, EntryNode, Node } from './tree.js';

/** How tightly operators bind; higher is tighter. */
const PRECEDENCE: Record<BinaryOperator, number> = {
  or: 1,
  and: 2,
  '<': 4,
  '<=': 4,
  '>': 4,
  '>=': 4,
  '==': 4,
  '!=': 4,
  '+': 5,
  '-': 5,
  '*': 6,
  '/': 6,
  '^': 8,
};
const NOT = 3;
const SIGN = 7;
const VALUE = 9;

/** The entry in its one canonical form: reading it again gives the same tree. */
export function printEntry({ name, expression }: EntryNode): string {
  return name === undefined ? printFormula(expression) : `${name} = ${printFormula(expression)}`;
}

export function printFormula(node: Node): string {
  return printed(node, 0);
}

/** In brackets where it binds less tightly than its place asks. */
function printed(node: Node, least: number): string {
  const [text, precedence] = plain(node);
  return precedence < least ? `(${text})` : text;
}

function plain(node: Node): [string, number] {
  switch (node.kind) {
    case 'number':
      return [String(node.value), VALUE];
    case 'text':
      return [node.text.includes('"') ? `'${node.text}'` : `"${node.text}"`, VALUE];
    case 'quantity':
      return [`${node.amount} ${node.unit}`, VALUE];
    case 'this':
      return [`this ${node.period}`, VALUE];
    case 'all':
      return ['all', VALUE];
    case 'name':
      return [node.part === undefined ? node.name : `${node.name}.${node.part}`, VALUE];
    case 'list':
      return [`[${node.items.map((item) => printed(item, 0)).join(', ')}]${node.unit ? ` ${node.unit}` : ''}`, VALUE];
    case 'unary':
      return node.operator === 'not'
        ? [`not ${printed(node.operand, NOT)}`, NOT]
        : [`-${printed(node.operand, SIGN)}`, SIGN];
    case 'binary': {
      const own = PRECEDENCE[node.operator];
      // a power groups to the right, and may be raised to a negative one
      if (node.operator === '^') return [`${printed(node.left, VALUE)} ^ ${printed(node.right, SIGN)}`, own];
      // operators group to the left; comparisons do not group at all
      const left = printed(node.left, own === 4 ? 5 : own);
      return [`${left} ${node.operator} ${printed(node.right, own + 1)}`, own];
    }
    case 'call': {
      const args = node.args.map((argument) => printed(argument, 0));
      const options = node.options.map(({ name, value }) => `${name}: ${printed(value, 0)}`);
      return [`${node.name}(${[...args, ...options].join(', ')})`, VALUE];
    }
    case 'part':
      return [`${printed(node.call, VALUE)}.${node.part}`, VALUE];
    case 'on': {
      const rule = /[,:]/.test(node.rule) ? `(${node.rule})` : node.rule;
      return [`${printed(node.operand, VALUE)} on ${rule}${node.forming ? ' forming' : ''}`, VALUE];
    }
  }
}
