import { cycles } from '../../examine/cycles.js';
import { filledOf, lessLine } from '../../examine/straightLines.js';
import { autocorrelation } from '../../memory/autocorrelation.js';
import { MOST_SEASON, modelText, type ChosenSmoothModel, type SmoothModel } from '../model.js';
import { ModelRefusal } from '../outlook.js';
import { fitSmoothing, type FittedSmoothing } from './fitSmoothing.js';

/** A kind that was tried. */
interface SmoothCandidate {
  model: SmoothModel;
  /** Why it cannot have these values. */
  refused: string;
  fitted?: FittedSmoothing;
}

interface ChosenSmoothing {
  fitted: FittedSmoothing;
  candidates: SmoothCandidate[];
  /** Rows of the season, where it was looked for among the cycles and found. */
  season: number | undefined;
}

/** A kind takes the place of an earlier one where its criterion is lower by more than this. */
const CLEARLY = 0.001;

/**
 * Chooses a kind of exponential smoothing by a criterion.
 * @param x  values from the first to the last that is there, or their logarithms; NaN between them
 * @throws {ModelRefusal} where no kind can have these values
 * @see definitions, section 15
 */
export function chooseSmoothing(
  x: Float64Array,
  { season: wanted, criterion, isOfLogs, floor }: Omit<ChosenSmoothModel, 'kind'>,
  goOn?: () => void,
): ChosenSmoothing {
  const season = wanted === 'cycles' ? seasonOf(x) : wanted;
  const kinds = [
    { season: undefined, isMultiplied: false },
    ...(season === undefined
      ? []
      : [{ season, isMultiplied: false }, ...(isOfLogs ? [] : [{ season, isMultiplied: true }])]),
  ];
  const candidates = kinds
    .flatMap((kind) => (['none', 'plain', 'damped'] as const).map((trend) => ({ ...kind, trend })))
    .map((shape): SmoothCandidate => {
      const model: SmoothModel = { kind: 'smooth', weights: {}, isOfLogs, floor, ...shape };
      try {
        return { model, refused: '', fitted: fitSmoothing(x, model, {}, goOn) };
      } catch (error) {
        if (!(error instanceof ModelRefusal)) throw error;
        return { model, refused: error.message };
      }
    });
  const fits = candidates.flatMap(({ fitted }) => fitted ?? []);
  if (fits.length === 0)
    throw new ModelRefusal(candidates.map(({ model, refused }) => `${modelText(model)}: ${refused}`)[0]);
  const exact = fits.filter(({ isExact }) => isExact);
  const fitted =
    exact.length > 0
      ? exact.reduce((best, one) => (one.parameters < best.parameters ? one : best))
      : fits.reduce((best, one) => (one[criterion] < best[criterion] - CLEARLY ? one : best));
  return { fitted, candidates, season };
}

/**
 * Returns the season of the strongest cycle that is no chance; of several lengths that it can have, the one that repeats best.
 * @param x  values of any unit; gaps are filled on straight lines
 * @returns rows, from 2 to 60; undefined where no cycle stands out
 * @see definitions, section 15
 */
export function seasonOf(x: Float64Array): number | undefined {
  const n = filledOf(x).values.length;
  const peak = (j: number) => {
    const from = Math.max(2, Math.ceil(n / (j + 0.5)));
    const to = Math.min(MOST_SEASON, Math.floor(n / 3), Math.floor(n / (j - 0.5)));
    return Array.from({ length: Math.max(0, to - from + 1) }, (_, at) => from + at);
  };
  const found = cycles(x).peaks.find(({ j, p }) => p < 0.05 && j >= 3 && peak(j).length > 0);
  if (!found) return undefined;
  const lengths = peak(found.j);
  const { acf } = autocorrelation(lessLine(filledOf(x).values), lengths[lengths.length - 1]);
  return lengths.reduce((best, one) => (acf[one] > acf[best] ? one : best));
}
