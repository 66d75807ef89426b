import { numbersIn, type NumberInText } from '@jaunty-ledger/core';

/** A formula as it is shown: plain text, and numbers that can be turned. */
type FormulaPart =
  { kind: 'text'; text: string; start: number } | { kind: 'number'; text: string; start: number; number: NumberInText };

export function formulaParts(text: string): FormulaPart[] {
  const parts: FormulaPart[] = [];
  let at = 0;
  for (const number of numbersIn(text)) {
    if (number.start > at) parts.push({ kind: 'text', text: text.slice(at, number.start), start: at });
    parts.push({ kind: 'number', text: text.slice(number.start, number.end), start: number.start, number });
    at = number.end;
  }
  if (at < text.length) parts.push({ kind: 'text', text: text.slice(at), start: at });
  return parts;
}

export type StepSize = 'usual' | 'coarse' | 'fine';

/** One step of a number: a hundredth for a smoothing factor, else one in its last place, but wholes stay whole. */
function stepOf({ of, value }: NumberInText, text: string, pace: StepSize): number {
  const decimals = /\.(\d+)/.exec(text)?.[1].length ?? 0;
  const usual = of === 'factor' ? 0.01 : decimals > 0 ? 10 ** -decimals : value >= 200 ? 5 : 1;
  if (pace === 'coarse') return usual * 10;
  return pace === 'fine' ? (decimals > 0 || of === 'factor' ? usual / 10 : 1) : usual;
}

/** Lengths and counts start at 1, a smoothing factor lies in (0, 1]; a bare number may be anything from 0. */
function limitsOf({ of }: NumberInText): [number, number] {
  if (of === 'factor') return [0.001, 1];
  return of === 'skip' || of === '' ? [0, Infinity] : [1, Infinity];
}

/** The text with one of its numbers moved by some steps, written without the noise of binary fractions. */
export function scrubbed(text: string, start: number, steps: number, pace: StepSize): string {
  const number = numbersIn(text).find((candidate) => candidate.start === start);
  if (!number) return text;
  const written = text.slice(number.start, number.end);
  const step = stepOf(number, written, pace);
  const [least, most] = limitsOf(number);
  const value = Math.min(most, Math.max(least, number.value + steps * step));
  return text.slice(0, number.start) + String(Number(value.toPrecision(12))) + text.slice(number.end);
}

/** The text with one of its numbers made a list of three, half, as it is, and double: a fan to turn by hand. */
export function fanned(text: string, start: number): string {
  const number = numbersIn(text).find((candidate) => candidate.start === start);
  // inside a list there is a fan already
  if (!number || /\[[^\]]*$/.test(text.slice(0, start))) return text;
  const { value } = number;
  const half = Number.isInteger(value) ? Math.max(1, Math.round(value / 2)) : value / 2;
  const list = `[${[...new Set([half, value, value * 2])].join(', ')}]`;
  return text.slice(0, number.start) + list + text.slice(number.end);
}
