import { BAR_COLUMNS, frameOf, makeCalendar, planEntries, type Frame } from '@jaunty-ledger/core';
import { fittingRule } from '$lib/api/fittingRule';
import { aliasesOf, calendarOptions } from '$lib/api/tapes';
import { findTapes, listTapes } from '../store/tapes';
import type { StoredTape } from '../store/tapeRows';
import type { BarChoice } from './tapeStretches';
import type { Tools } from './taskKind';

/** Bars of the other tapes that the entries read, on the same rule. */
export async function otherFrames(
  { tape, entries, rule, flagged }: BarChoice & { tape: StoredTape; entries: readonly string[] },
  { store, bars, course }: Tools,
): Promise<Record<string, Frame>> {
  const tapes = (await store.read(listTapes)).filter(({ id }) => id !== tape.id);
  const others = new Map(
    tapes.map(({ name, numbers }) => [name, new Set([...BAR_COLUMNS, ...numbers.map((column) => column.name)])]),
  );
  const texts = tape.texts.map(({ name }) => name);
  const columns = [...BAR_COLUMNS, ...tape.numbers.map(({ name }) => name)];
  const read = new Set(
    planEntries(entries, {
      ...{ columns, texts, others, self: tape.name },
      aliases: aliasesOf(tape),
      otherAliases: new Map(tapes.map((one) => [one.name, aliasesOf(one)])),
    }).flatMap((plan) => plan.tapes),
  );
  const frames: [string, Frame][] = [];
  const calendar = makeCalendar(calendarOptions(tape));
  for (const one of await store.read((rows) => findTapes(rows, [...read]))) {
    const other = await bars.of(one, { rule: fittingRule(rule, one), flagged }, course);
    frames.push([one.name, frameOf(other.bars, calendar, { rule: other.rule, aliases: aliasesOf(one) })]);
  }
  return Object.fromEntries(frames);
}
