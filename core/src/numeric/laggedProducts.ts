import FFT from 'fft.js';

/** Up to so many products they are added up one by one, which keeps the most digits. */
const FEW_PRODUCTS = 4e6;
/** Transforms of a size that stays in the processor's cache. */
const USUAL_SIZE = 4096;

/**
 * Sums of a[t] b[t + k] over all t, for k from 0 to `lags`.
 * Long columns go through transforms of one stretch after the other, whose spectra are added up: O(n log lags).
 * @param a  values that are all there
 * @param b  as many
 */
export function laggedProducts(a: Float64Array, b: Float64Array, lags: number): Float64Array {
  return a.length * (lags + 1) <= FEW_PRODUCTS ? oneByOne(a, b, lags) : byTransforms(a, b, lags);
}

function oneByOne(a: Float64Array, b: Float64Array, lags: number): Float64Array {
  const n = a.length;
  return Float64Array.from({ length: lags + 1 }, (_, k) => {
    let sum = 0;
    for (let t = 0; t + k < n; t++) sum += a[t] * b[t + k];
    return sum;
  });
}

function byTransforms(a: Float64Array, b: Float64Array, lags: number): Float64Array {
  const n = a.length;
  // a stretch of a meets that of b which is longer by the lags; both must fit in a transform
  const size = Math.max(USUAL_SIZE, 2 ** Math.ceil(Math.log2(4 * lags)));
  const stretch = size - lags;
  const fft = new FFT(size);
  const [pair, spectrum, sum] = [0, 1, 2].map(() => new Float64Array(2 * size));
  for (let from = 0; from < n; from += stretch) {
    pair.fill(0);
    // two real columns as one of complex numbers: their spectra are its even and its odd part
    for (let t = Math.min(stretch, n - from) - 1; t >= 0; t--) pair[2 * t] = a[from + t];
    for (let t = Math.min(size, n - from) - 1; t >= 0; t--) pair[2 * t + 1] = b[from + t];
    fft.transform(spectrum, pair);
    for (let j = 0; j < size; j++) {
      const mirror = (size - j) % size;
      const [real, imaginary] = [spectrum[2 * j], spectrum[2 * j + 1]];
      const [realBack, imaginaryBack] = [spectrum[2 * mirror], -spectrum[2 * mirror + 1]];
      const [ar, ai] = [(real + realBack) / 2, (imaginary + imaginaryBack) / 2];
      const [br, bi] = [(imaginary - imaginaryBack) / 2, (realBack - real) / 2];
      sum[2 * j] += ar * br + ai * bi;
      sum[2 * j + 1] += ar * bi - ai * br;
    }
  }
  fft.inverseTransform(spectrum, sum);
  return Float64Array.from({ length: lags + 1 }, (_, k) => spectrum[2 * k]);
}
