import {
  fitModel,
  ModelRefusal,
  modelText,
  MOST_ORDER,
  normalBelow,
  parseModel,
  projectionOf,
  type Model,
} from '@jaunty-ledger/core';
import type { ToldModel } from '$lib/works/projection/work';
import { INK_COUNT } from '$lib/chart/inks';

/** The ink of a model by its place: red first is left to the origin. */
export const inks = (place: number): string => `var(--ink-${(place + 3) % INK_COUNT})`;
export const dashes = (place: number): string =>
  ['5 3', '', '2 3', '8 3', '10 3 2 3', '1 3', '12 4', '6 2 2 2'][place % 8];

/** A model as it is written, in parts: words, and whole numbers that can be turned. */
interface ModelPart {
  text: string;
  /** Where a number stands in the text. */
  start: number;
  number: number | undefined;
}

export function modelParts(text: string): ModelPart[] {
  const parts: ModelPart[] = [];
  let at = 0;
  for (const match of text.matchAll(/(?<![.\d])\d+(?![.\d])/g)) {
    if (match.index > at) parts.push({ text: text.slice(at, match.index), start: at, number: undefined });
    parts.push({ text: match[0], start: match.index, number: Number(match[0]) });
    at = match.index + match[0].length;
  }
  if (at < text.length) parts.push({ text: text.slice(at), start: at, number: undefined });
  return parts;
}

export const turned = (text: string, { start, text: old }: ModelPart, number: number): string =>
  text.slice(0, start) + String(number) + text.slice(start + old.length);

/** Models that repeat a season, the one that is chosen by itself first. */
export const seasonalModels = (season: number): string[] =>
  ['smooth', 'arima', 'last'].map((name) => `${name} season ${season}`);

/** An arima without a season that also has a coefficient at one lag of its own past; undefined where it cannot have it. */
export function withLag(text: string, lag: number): string | undefined {
  const model = parseModel(text);
  if (model.kind !== 'arima' || model.seasonal || lag > MOST_ORDER) return undefined;
  const own = model.lags ?? Array.from({ length: model.p }, (_, at) => at + 1);
  if (own.includes(lag)) return undefined;
  const lags = [...own, lag].sort((a, b) => a - b);
  const p = lags[lags.length - 1];
  return modelText({ ...model, p, lags: lags.length < p ? lags : undefined });
}

/** Models whose numbers are searched for, which the server does. */
const SEARCHED: ReadonlySet<string> = new Set<Model['kind']>(['arima', 'chosen', 'smooth', 'chosen smooth']);

/** What a model is written as, where it is one; why it is none otherwise. */
export function readModel(text: string): { problem: string } | { isSimple: boolean } {
  try {
    const { kind } = parseModel(text);
    return { isSimple: !SEARCHED.has(kind) };
  } catch (error) {
    return { problem: error instanceof Error ? error.message : String(error) };
  }
}

/** What a simple model says from another origin, worked out here while the origin is dragged; nothing where it cannot. */
export function projectedHere(values: Float64Array, text: string, horizon: number): number[] | undefined {
  const model = parseModel(text);
  if (SEARCHED.has(model.kind)) return undefined;
  try {
    return Array.from(projectionOf(fitModel(values, model), model, horizon).value);
  } catch (error) {
    if (error instanceof ModelRefusal) return undefined;
    throw error;
  }
}

/** When a model reaches a value, and the share of its fan that lies beyond it then. */
interface Reached {
  /** Rows ahead, from 1; nothing where it does not within the horizon. */
  ahead: number | undefined;
  /** Share beyond it at that row, or at the horizon. */
  beyond: number | undefined;
}

/** @param last  the last value seen: the side from which the target is reached */
export function reachedBy({ value, deviation, isOfLog }: ToldModel, target: number, last: number): Reached {
  const isUp = target >= last;
  const at = value.findIndex((one) => one !== null && (isUp ? one >= target : one <= target));
  const row = at < 0 ? value.length - 1 : at;
  const [middle, width] = [value[row], deviation[row]];
  if (middle === null || middle === undefined || width === null || !(width > 0) || (isOfLog && target <= 0))
    return { ahead: at < 0 ? undefined : at + 1, beyond: undefined };
  const z = isOfLog ? (Math.log(target) - Math.log(middle)) / width : (target - middle) / width;
  return { ahead: at < 0 ? undefined : at + 1, beyond: isUp ? 1 - normalBelow(z) : normalBelow(z) };
}

/**
 * The first row ahead at a time or after it, from 1; nothing where the rows do not go on so far.
 * @param ahead  instants of the rows ahead, ascending
 */
export function rowAheadAt(ahead: readonly number[], at: number): number | undefined {
  const place = ahead.findIndex((time) => time >= at);
  return place < 0 ? undefined : place + 1;
}

/** Outcomes that are equal but for the last digit stand as one, with all their names; the least first. */
export function merged<Outcome extends { name: string; value: number }>(
  outcomes: readonly Outcome[],
): (Outcome & { names: string[] })[] {
  const rows: (Outcome & { names: string[] })[] = [];
  for (const outcome of [...outcomes].sort((a, b) => a.value - b.value)) {
    const last = rows[rows.length - 1];
    if (last && Math.abs(outcome.value - last.value) <= 1e-9 * Math.abs(last.value)) last.names.push(outcome.name);
    else rows.push({ ...outcome, names: [outcome.name] });
  }
  return rows;
}
