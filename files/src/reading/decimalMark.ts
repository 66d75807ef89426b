import { readStyledNumber } from '../records/numberText.js';
import { roleOfWord } from './headerWords.js';
import type { Reading } from './reading.js';

/** The mark before the decimals of a sample, and whether its figures leave that open. */
export interface DecimalMark {
  decimal: '.' | ',';
  isOpen: boolean;
  /** A figure that could mean either, where it is open. */
  example?: string;
}

/** Figures of one mark that stands before three digits: decimals or thousands. */
const EITHER = /^\D*\d{1,3}[.,]\d{3}\D*$/;
const NUMERIC_DATE = /^(\d{4}[-/.]\d{1,2}[-/.]\d{1,2}|\d{1,2}[-/.]\d{1,2}[-/.]\d{2,4})/;
/** Words that headings have in languages that write a decimal comma. */
const COMMA_LANGUAGES =
  /^(datum|zeit|uhrzeit|kurs|schluss(kurs)?|preis|menge|wert|er(ö|oe)ffnung|hoch|tief|fecha|hora|precio|cierre|apertura|m(á|a)ximo|m(í|i)nimo|cours|prix|cl(ô|o)ture|ouverture|heure|data|prezzo|chiusura|ora|valore|koers|slot(koers)?|tijd|pre(ç|c)o|fechamento|valor|abertura|kurz|cena|dato|tidspunkt|pris|hinta|p(ä|a)iv(ä|a))$/i;
/** A reading is wrong where it spreads the values this many times wider than the other one. */
const FAR_APART = 30;

/**
 * Decides which mark stands before decimals. Where every figure has one mark before three digits, other figures of its column,
 * the mark between columns and the language of the headings decide, or it is left open.
 * @param columns  cells of a sample, by column
 */
export function decimalMarkOf(
  columns: readonly (readonly string[])[],
  names: readonly string[],
  delimiter: Reading['delimiter'],
  isText: boolean,
): DecimalMark {
  const cells = columns.flat().filter((cell) => /\d/.test(cell));
  // both marks in one figure: the last one is the decimal mark
  const both = cells.find((cell) => /\d\.\d{3},\d|\d,\d{3}\.\d/.test(cell));
  if (both) return decided(both.lastIndexOf(',') > both.lastIndexOf('.') ? ',' : '.');
  const commas = cells.filter((cell) => /^[^.:]*\d,(\d{1,2}|\d{4,})\D*$|^\D*\d{4,},\d+\D*$/.test(cell)).length;
  const points = cells.filter(
    (cell) => /^[^,:]*\d\.\d+\D*$/.test(cell) && !NUMERIC_DATE.test(cell) && !EITHER.test(cell),
  ).length;
  if (commas !== points) return decided(commas > points ? ',' : '.');
  // a mark that comes twice in a figure is one of thousands
  const grouped = cells.find((cell) => /^\D*\d{1,3}([.,])\d{3}(\1\d{3})+\D*$/.test(cell));
  if (grouped) return decided(grouped.includes(',') ? '.' : ',');
  const open = columns.filter((column, at) => {
    const either = column.filter((cell) => EITHER.test(cell) && !NUMERIC_DATE.test(cell));
    return either.length > 0.5 * column.filter((cell) => /\d/.test(cell)).length && !isCounted(names[at]);
  });
  const marked = open.flatMap((column) => column.filter((cell) => EITHER.test(cell)));
  if (marked.length === 0) return decided('.');
  const withComma = marked.filter((cell) => cell.includes(',')).length;
  const mark = 2 * withComma > marked.length ? ',' : '.';
  const other = mark === ',' ? '.' : ',';
  // 0,500 is no thousand
  if (marked.some((cell) => /^\D*0\d*[.,]/.test(cell))) return decided(mark);
  for (const column of open) {
    const bySize = markBySizes(column, mark, other);
    if (bySize) return decided(bySize);
  }
  const hasCommaWords = names.some((name) => COMMA_LANGUAGES.test(name.trim()));
  if (mark === '.') return { decimal: '.', isOpen: isText && delimiter === ';' && hasCommaWords, example: marked[0] };
  if (hasCommaWords && delimiter !== ',') return decided(',');
  return { decimal: delimiter === ',' ? '.' : ',', isOpen: true, example: marked[0] };
}

const decided = (decimal: '.' | ','): DecimalMark => ({ decimal, isOpen: false });

/** Whether a heading says that figures are counts, which have no decimals. */
const isCounted = (name: string | undefined): boolean =>
  ['volume', 'size', 'trades', 'bidSize', 'askSize'].includes(roleOfWord(name ?? '') ?? '');

/** What a column's own figures say: long ones without a mark, and sizes that only go together one way. */
function markBySizes(column: readonly string[], mark: '.' | ',', other: '.' | ','): '.' | ',' | undefined {
  if (column.some((cell) => /^\D*[1-9]\d{3,}\D*$/.test(cell))) return mark;
  const spread = (decimal: '.' | ',') => {
    const sizes = column.map((cell) => Math.abs(readStyledNumber(cell, decimal))).filter((size) => size > 0);
    return Math.max(...sizes) / Math.min(...sizes);
  };
  const [asDecimals, asThousands] = [spread(mark), spread(other)];
  if (asDecimals > FAR_APART * asThousands) return other;
  if (asThousands > FAR_APART * asDecimals) return mark;
  return undefined;
}
