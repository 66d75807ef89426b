import {
  ArgumentError,
  calendarGroups,
  dateText,
  examine,
  isTimed,
  MOST_EXAMINED_ROWS,
  parseBarRule,
  parseTreatment,
  treatmentText,
  WEEKDAYS,
  type Frame,
  type ProfileBy,
  type ChangesChoice,
} from '@jaunty-ledger/core';
import type { ToldExamination } from './work';
import { refuse } from '$lib/api/problems';
import { oneColumn, type OneColumnInput } from '$lib/server/tasks/oneColumn';
import type { TaskKind } from '$lib/server/tasks/taskKind';
import { MOST_MARKS, toldExamination, type Grouping } from './answer';

interface ExaminationInput extends OneColumnInput {
  treatments: string[];
  lags: number;
  season: number | undefined;
  /** What its rows are put together by: a part of the calendar, or the words of a column. */
  profile: ProfileBy | undefined;
  words: string | undefined;
  turns: number | undefined;
  shuffles: number;
  seed: number;
  changes: ChangesChoice;
}

/** What one column of bars is like, as JSON. */
export const examination: TaskKind<ExaminationInput> = {
  // several regressions, and memory held against many copies
  records: ({ tape, shuffles }) => tape.rows * (10 + shuffles / 10),
  bars: (input) => input,
  run: async (input, tools) => {
    const { tape, lags, season, turns, shuffles, seed, changes } = input;
    const { frame, rule, phrase, unit, values } = await oneColumn(input, MOST_EXAMINED_ROWS, tools);
    try {
      const treatments = input.treatments.map(parseTreatment);
      const grouping = groupingOf(input, frame, rule);
      const found = examine(values, {
        treatments,
        lags,
        season,
        isOfChanges: unit === 'fraction' || unit === 'move',
        changes,
        shuffles,
        seed,
        normalPoints: MOST_MARKS,
        goOn: tools.course.goOn,
        turns,
        groups: grouping?.groups,
      });
      const told = toldExamination(found, frame.time, values, grouping);
      const about = { tape: tape.name, rule, phrase, treatments: treatments.map(treatmentText) };
      return new TextEncoder().encode(JSON.stringify({ ...about, ...told } satisfies ToldExamination));
    } catch (error) {
      if (!(error instanceof ArgumentError)) throw error;
      throw refuse('invalid-body', error.message, {}, { cause: error });
    }
  },
};

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** The group of each row, and what a group is called. */
function groupingOf({ tape, profile, words }: ExaminationInput, frame: Frame, rule: string): Grouping | undefined {
  if (words !== undefined) {
    const column = tape.texts.find(({ name }) => name === words);
    if (!column) {
      const own = tape.texts.map(({ name }) => `\`${name}\``).join(', ');
      throw refuse('invalid-body', `${tape.name} has no column of words called \`${words}\`${own && `, but ${own}`}.`);
    }
    return { by: words, groups: frame.texts![words], nameOf: (group) => column.words[group] };
  }
  if (!profile) return undefined;
  if (tape.precision === 'period')
    throw refuse(
      'invalid-body',
      `${tape.name} has numbered periods without dates, so there is no calendar to group by.`,
    );
  const { kind } = parseBarRule(rule);
  const interval = isTimed(kind) && kind.by === 'interval' ? kind.micros : undefined;
  if (profile === 'slot' && interval === undefined)
    throw refuse('invalid-body', 'Slots of a session are those of bars by the clock; choose another grouping.');
  const groups = calendarGroups(frame.time, frame.calendar!, profile, interval);
  const names: Partial<Record<ProfileBy, (group: number) => string>> = {
    weekday: (group) => WEEKDAYS[group],
    month: (group) => MONTHS[group - 1],
    session: dateText,
  };
  return { by: profile, groups, nameOf: names[profile] ?? String };
}
