/** Lanczos's approximation with g = 7 and nine terms: good to fifteen digits for x > 0. */
const LANCZOS = [
  0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059,
  12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
];

/** The logarithm of the gamma function of x > 0. @see Lanczos 1964 */
export function logGamma(x: number): number {
  if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - logGamma(1 - x);
  const at = x - 1;
  const t = at + 7.5;
  const sum = LANCZOS.reduce((total, term, i) => (i === 0 ? term : total + term / (at + i)), 0);
  return 0.5 * Math.log(2 * Math.PI) + (at + 0.5) * Math.log(t) - t + Math.log(sum);
}

/**
 * The chance that a chi-square variable exceeds a value.
 * @param degrees  of freedom, above 0
 * @remarks a series below the middle, Lentz's continued fraction above it, so that small chances keep their digits
 */
export function chiSquareTail(value: number, degrees: number): number {
  const [a, x] = [degrees / 2, value / 2];
  if (!(x > 0)) return Number.isNaN(x) ? NaN : 1;
  const scale = Math.exp(a * Math.log(x) - x - logGamma(a));
  if (x < a + 1) {
    let term = 1 / a;
    let sum = term;
    for (let n = a + 1; Math.abs(term) > Math.abs(sum) * 1e-17; n++) sum += term *= x / n;
    return 1 - sum * scale;
  }
  const least = 1e-300;
  let b = x + 1 - a;
  let c = 1 / least;
  let d = 1 / b;
  let fraction = d;
  for (let n = 1; n < 10_000; n++) {
    const numerator = -n * (n - a);
    b += 2;
    d = 1 / (numerator * d + b || least);
    c = b + numerator / c || least;
    const step = d * c;
    fraction *= step;
    if (Math.abs(step - 1) < 1e-16) break;
  }
  return fraction * scale;
}
