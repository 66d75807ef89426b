import { childrenOf, FormulaError, withChildren, type Node } from './tree.js';

/** More settings than this at once are no longer told apart. */
const MOST_MEMBERS = 24;

/** One member of a fan: its label, such as `50`, and the formula with that setting filled in. */
interface FanMember {
  label: string;
  expression: Node;
}

/**
 * The members of a formula with lists in it, in the order of the lists; a formula without one is its own only member,
 * without a label.
 * @throws {FormulaError} where a list holds anything but numbers, or there are too many members
 */
export function fanMembers(expression: Node): FanMember[] {
  const list = firstList(expression);
  if (!list) return [{ label: '', expression }];
  const members = list.items.flatMap((item) => {
    const setting = asSetting(item, list);
    const label = item.kind === 'number' ? String(item.value) : '';
    return fanMembers(replaced(expression, list, setting)).map((rest) => ({
      label: rest.label ? `${label}, ${rest.label}` : label,
      expression: rest.expression,
    }));
  });
  if (members.length > MOST_MEMBERS)
    throw new FormulaError(
      `a fan has at most ${MOST_MEMBERS} members, this one ${members.length}`,
      list.start,
      list.end - list.start,
    );
  return members;
}

type ListNode = Extract<Node, { kind: 'list' }>;

function asSetting(item: Node, { unit, unitAt }: ListNode): Node {
  const { start, end } = item;
  if (item.kind !== 'number') throw new FormulaError('a list holds numbers, as in `[10, 50] bars`', start, end - start);
  return unit === undefined ? item : { kind: 'quantity', amount: item.value, unit, unitAt: unitAt!, start, end };
}

function firstList(node: Node): ListNode | undefined {
  if (node.kind === 'list') return node;
  for (const child of childrenOf(node)) {
    const found = firstList(child);
    if (found) return found;
  }
  return undefined;
}

function replaced(node: Node, list: ListNode, by: Node): Node {
  return node === list ? by : withChildren(node, (child) => replaced(child, list, by));
}
