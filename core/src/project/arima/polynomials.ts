/** Polynomials in the shift back, from the power 0 on. */
export type Polynomial = readonly number[];

export function product(a: Polynomial, b: Polynomial): number[] {
  const out = new Array<number>(a.length + b.length - 1).fill(0);
  a.forEach((one, i) => b.forEach((other, j) => (out[i + j] += one * other)));
  return out;
}

/** 1 + c1 B^s + c2 B^2s + ... times a sign. */
export function ofLags(coefficients: readonly number[], sign: 1 | -1, step = 1): number[] {
  const out = new Array<number>(coefficients.length * step + 1).fill(0);
  out[0] = 1;
  coefficients.forEach((c, at) => (out[(at + 1) * step] = sign * c));
  return out;
}

/** (1 - B)^d (1 - B^s)^D. */
export function differencing(d: number, seasons: number, rows: number): number[] {
  let out = [1];
  for (let times = 0; times < d; times++) out = product(out, [1, -1]);
  for (let times = 0; times < seasons; times++) out = product(out, ofLags([1], -1, rows));
  return out;
}

/** A column differenced; shorter by the degree. */
export function differenced(x: Float64Array, by: Polynomial): Float64Array {
  const lost = by.length - 1;
  return Float64Array.from({ length: Math.max(0, x.length - lost) }, (_, row) =>
    by.reduce((sum, c, back) => (c === 0 ? sum : sum + c * x[row + lost - back]), 0),
  );
}

/** Coefficients phi of 1 - phi1 B - ... from its partial autocorrelations, all between -1 and 1 (Monahan 1984). */
export function fromPartials(partials: readonly number[]): number[] {
  let phi: number[] = [];
  for (const [k, r] of partials.entries()) phi = [...phi.map((one, j) => one - r * phi[k - 1 - j]), r];
  return phi;
}

/** The other way round; nothing where the polynomial has a root that is not outside the unit circle. */
export function partialsOf(phi: readonly number[]): number[] | undefined {
  const partials: number[] = [];
  let left = [...phi];
  while (left.length > 0) {
    const r = left[left.length - 1];
    if (!(Math.abs(r) < 1)) return undefined;
    partials.unshift(r);
    const k = left.length;
    left = left.slice(0, -1).map((one, j) => (one + r * left[k - 2 - j]) / (1 - r * r));
  }
  return partials;
}

/** Weights of shocks so many rows back: theta(B) / phi(B), with phi as 1 - phi1 B - ... */
export function shockWeights(phi: Polynomial, theta: Polynomial, count: number): Float64Array {
  const psi = new Float64Array(count);
  for (let j = 0; j < count; j++) {
    psi[j] = theta[j] ?? 0;
    for (let back = 1; back <= Math.min(j, phi.length - 1); back++) psi[j] -= phi[back] * psi[j - back];
  }
  return psi;
}
