import { describe, expect, it } from 'vitest';
import { hiddenText } from './sessionGuess';

describe('what hours would hide', () => {
  const days = (counts: Record<number, number>) => Array.from({ length: 7 }, (_, day) => counts[day] ?? 0);
  const hours = (counts: Record<number, number>) => Array.from({ length: 24 }, (_, hour) => counts[hour] ?? 0);

  it.each([
    [
      { rows: 12, hidden: 0, days: days({}), hours: hours({}) },
      'These hours would hide none of the 12 rows looked at.',
    ],
    [
      { rows: 4812, hidden: 37, days: days({ 5: 20 }), hours: hours({ 17: 10, 18: 7 }) },
      "These hours would hide 37 of the 4,812 rows looked at: 20 on Saturday, 10 at 17 o'clock, 7 at 18 o'clock.",
    ],
    [
      { rows: 50, hidden: 36, days: days({}), hours: hours({ 0: 8, 1: 7, 2: 6, 3: 5, 4: 4, 5: 3, 6: 2, 7: 1 }) },
      /3 at 5 o'clock, 3 at other times\.$/,
    ],
  ])('%#', (hidden, text) => expect(hiddenText(hidden)).toMatch(text));
});
