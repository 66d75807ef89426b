import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { JsonItems, namesOfPointer, pointerOf } from './jsonItems';

/** The values at a pointer, with the text in pieces of so many bytes. */
function itemsOf(text: string, pointer: string, piece: number): [string, unknown][] {
  const found: [string, unknown][] = [];
  const items = new JsonItems(pointer, (name, item) => found.push([name, JSON.parse(item) as unknown]));
  const bytes = new TextEncoder().encode(text);
  for (let at = 0; at < bytes.length; at += piece) items.push(bytes.slice(at, at + piece));
  expect(items.isOver).toBe(true);
  return found;
}
const escaped = (text: string) =>
  text.replace(/[\u0080-\uffff]/g, (letter) => `\\u${letter.charCodeAt(0).toString(16).padStart(4, '0')}`);
const names = fc.array(fc.oneof(fc.string(), fc.constantFrom('__proto__', 'a.b', 'a/b', '~', 'constructor')), {
  maxLength: 3,
});

describe('values within a JSON text', () => {
  it('are found under any names, however the text is written and comes', () =>
    fc.assert(
      fc.property(
        names,
        fc.array(fc.jsonValue(), { maxLength: 5 }),
        fc.integer({ min: 1, max: 9 }),
        fc.constantFrom(0, 2),
        fc.boolean(),
        (way, list, piece, indent, isEscaped) => {
          const holder = JSON.stringify(list, null, indent);
          const whole = way.reduceRight(
            (inner, name) => `{"zz":[1,{}], ${JSON.stringify(name)} : ${inner}, "zzz": {"q": [2]} }`,
            holder,
          );
          fc.pre(!way.includes('zz') && !way.includes('zzz'));
          const found = itemsOf(isEscaped ? escaped(whole) : whole, pointerOf(way), piece);
          expect(found.map(([, value]) => JSON.stringify(value))).toEqual(list.map((value) => JSON.stringify(value)));
        },
      ),
    ));

  it('have their names in an object', () =>
    expect(itemsOf('{"a":{"x":[1],"__proto__":[2, 3],"n":4}}', '/a', 5)).toEqual([
      ['x', [1]],
      ['__proto__', [2, 3]],
      ['n', 4],
    ]));

  it('lie where a pointer says, whatever the names on the way', () =>
    fc.assert(
      fc.property(names, (way) => {
        expect(namesOfPointer(pointerOf(way))).toEqual(way);
      }),
    ));
});
