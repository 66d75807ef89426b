import { expect, it } from 'vitest';
import { barWords } from './barWords';

const bars = (open: number, high: number, low: number, close: number) => ({
  open: Float64Array.of(open),
  high: Float64Array.of(high),
  low: Float64Array.of(low),
  close: Float64Array.of(close),
});

it.each([
  ['that rises', bars(126, 126.2, 126, 126.18), 0, ['opened 126.00, rose 0.143 %', 'between 126.00 and 126.20']],
  ['that falls', bars(126, 126.2, 120, 120), 0, ['opened 126.00, fell 4.76 %', 'between 120.00 and 126.20']],
  ['that stays', bars(126, 126.2, 120, 126), 0, ['opened 126.00, closed as it opened', 'between 120.00 and 126.20']],
  ['left blank', bars(NaN, NaN, NaN, NaN), 0, ['no price', '']],
  ['of a day to come', bars(126, 126, 126, 126), 1, ['still to come', '']],
])('a bar %s, in words', (_, of, row, words) => expect(barWords(of, row, 2)).toEqual(words));
