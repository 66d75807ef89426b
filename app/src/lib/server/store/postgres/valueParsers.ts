/* Values as the store knows them: numbers are numbers, and what is kept as JSON stays a text. */

function asBytes(text: string): Buffer {
  if (!text.startsWith('\\x'))
    throw new Error('The database sends bytes in its older format: set bytea_output to hex there.');
  return Buffer.from(text.slice(2), 'hex');
}

/** By the numbers that the database gives its types. */
const PARSERS: Record<number, (text: string) => unknown> = {
  16: (text) => (text === 't' ? 1 : 0), // boolean
  17: asBytes, // bytea
  20: Number, // bigint: no count of ours comes near 2^53
  21: Number,
  23: Number,
  700: Number,
  701: Number, // double: written with as many digits as tell it from its neighbours
  1700: Number, // numeric, as sums come
};

const asText = (text: string): string => text;

/** As the client takes them. */
export const valueParsers = { getTypeParser: (type: number) => PARSERS[type] ?? asText };
