import type { z } from 'zod';

type Fields = Record<string, unknown>;

interface Options {
  /** Names of parameters that differ from those of their fields. */
  names?: Record<string, string>;
  /** Fields that are written also where they are as usual. */
  always?: readonly string[];
  /** Items of a list that are no texts or numbers: how they stand in an address. */
  items?: Record<string, { read: (text: string, place: number) => unknown; write: (item: never) => string }>;
}

/** What a field holds, without its default and whether it can be missing. */
function typeOf(field: z.ZodType): { type: string; isList: boolean } {
  const { type, innerType, element } = field.def as unknown as Record<'type' | 'innerType' | 'element', never>;
  if (innerType) return typeOf(innerType);
  if (type === 'array') return { type: typeOf(element).type, isList: true };
  return { type, isList: false };
}

/**
 * How the body of a page stands in its address: a parameter a field, one an item of a list. Missing, empty and usual values are
 * left out; what cannot be read is as usual.
 * @param schema  of the body; its defaults are what is usual
 * @param sample  a body that has what the schema has no default for
 */
export function pageAddress<Schema extends z.ZodObject>(
  path: string,
  schema: Schema,
  sample: z.input<Schema>,
  { names = {}, always = [], items = {} }: Options = {},
) {
  type Body = z.infer<Schema>;
  const usual = schema.parse(sample) as Fields;
  const fields = Object.entries(schema.shape as Record<string, z.ZodType>).filter(([name]) => name !== 'page');
  const required = fields.filter(([name]) => name in sample).map(([name]) => name);
  const isUsual = (name: string, value: unknown) =>
    ![...required, ...always].includes(name) && JSON.stringify(value) === JSON.stringify(usual[name]);

  function textOf(name: string, item: unknown): string {
    return items[name] ? items[name].write(item as never) : String(item);
  }

  function valueIn(address: URLSearchParams, name: string, field: z.ZodType): unknown {
    const key = names[name] ?? name;
    if (!address.has(key)) return undefined;
    const { type, isList } = typeOf(field);
    const one = (text: string, place: number): unknown => {
      if (items[name]) return items[name].read(text, place);
      return type === 'number' ? Number(text) : type === 'boolean' ? text === 'true' : text;
    };
    return isList
      ? address
          .getAll(key)
          .map(one)
          .filter((item) => item !== undefined)
      : one(address.get(key)!, 0);
  }

  return {
    /** @param own  what is usual of the page that is opened, where the schema has nothing usual or something else */
    read(address: URLSearchParams, own: Partial<Body>): Body {
      const read = fields.flatMap(([name, field]) => {
        const found = field.safeParse(valueIn(address, name, field));
        return address.has(names[name] ?? name) && found.success ? [[name, found.data] as const] : [];
      });
      return { ...usual, ...own, ...Object.fromEntries(read) } as Body;
    },
    /** @param kept  the number that the page is saved under */
    write(body: Body, kept?: number): string {
      const address = new URLSearchParams();
      for (const [name] of fields) {
        const value = (body as Fields)[name];
        if (value === null || value === '' || isUsual(name, value)) continue;
        for (const item of Array.isArray(value) ? value : [value])
          address.append(names[name] ?? name, textOf(name, item));
      }
      if (kept !== undefined) address.set('kept', String(kept));
      return `${path}?${address}`;
    },
  };
}
