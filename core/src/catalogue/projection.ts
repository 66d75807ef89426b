import { ArgumentError } from '../arguments.js';
import { modelPhrase, parseModel } from '../project/model.js';
import { ModelRefusal } from '../project/outlook.js';
import { fitModel, projectionOf, seenBy } from '../project/project.js';
import { COLUMN_X, type FunctionEntry } from './functionEntry.js';

/** Values of rows to come, as functions. */
export const projectionFunctions: readonly FunctionEntry[] = [
  {
    name: 'projection',
    sentence: 'A model carried on over so many bars after the last value, and the ends that 95 of 100 lie between.',
    remark:
      'It is drawn on bars to come, so it stands alone in its entry and goes into no other formula. Missing values are left out first; exponential smoothing keeps their rows.',
    formula: 'f[h], h = 1..bars, and f[h] -+ 1.96 s[h]',
    example: 'projection(close, "drift", 30)',
    definition: '11. Projections',
    source: 'of each model: definitions, section 11',
    cost: 'O(1) a row; arima searches its coefficients',
    unit: ([x]) => x,
    phrase: ([x], { words: { model }, numbers: { bars } }) =>
      `${x} projected over ${bars} bars: ${modelPhrase(parseModel(model))}`,
    parameters: [
      COLUMN_X,
      { kind: 'text', name: 'model', says: 'the model, such as "drift" or "arima(1, 1, 1)"', example: '"drift"' },
      { kind: 'number', name: 'bars', says: 'bars to come', above: 0, max: 1000, whole: true, default: 30 },
    ],
    options: {},
    refuse: ({ words: { model } }) => {
      try {
        parseModel(model);
        return undefined;
      } catch (error) {
        if (!(error instanceof ArgumentError)) throw error;
        return error.message;
      }
    },
    parts: [
      { name: 'value', says: 'the projection', drawn: true },
      { name: 'low', says: 'lower end, 95 of 100', drawn: true, role: 'lower' },
      { name: 'high', says: 'upper end, 95 of 100', drawn: true, role: 'upper' },
      { name: 'low80', says: 'lower end, 80 of 100', drawn: false },
      { name: 'high80', says: 'upper end, 80 of 100', drawn: false },
    ],
    looksAhead: () => true,
    ahead: ({ numbers: { bars } }) => bars,
    working: ({ settings: { words, numbers }, columns: [x], row }) => {
      const last = x.findLastIndex(isFinite);
      return {
        steps: [
          {
            says: `values that the model is given: ${modelPhrase(parseModel(words.model))}`,
            value: seenBy(parseModel(words.model), x).length,
          },
          { says: 'the last of them', value: x[last] },
          { says: 'bars after it', value: row + numbers.bars - last },
        ],
      };
    },
    compute: ([x], { words, numbers: { bars } }, { progress }) => {
      const model = parseModel(words.model);
      const fitted = fitModel(seenBy(model, x), model, {}, () => progress?.(0.5));
      const { value, low95, high95, low80, high80 } = projectionOf(fitted, model, bars);
      const last = x.findLastIndex(isFinite);
      if (last + 1 < bars)
        throw new ModelRefusal(`it goes on over at most as many bars as there are values: ${last + 1}, not ${bars}`);
      // the value of the bar h after the last one stands where it is displaced to that bar from
      return [value, low95, high95, low80, high80].map((ahead) => {
        const column = new Float64Array(x.length).fill(NaN);
        column.set(ahead, last + 1 - bars);
        return column;
      });
    },
  },
];
