/** Numbers that look random and come out the same for the same seed: sfc32 of Chris Doty-Humphrey's PractRand. */
export class Random {
  private a = 0x9e3779b9;
  private b = 0x243f6a88;
  private c: number;
  private counter = 1;
  private spare: number | undefined;

  constructor(seed: number) {
    this.c = seed >>> 0;
    for (let i = 0; i < 15; i++) this.uniform();
  }

  /** From 0, below 1. */
  uniform(): number {
    const sum = (this.a + this.b + this.counter++) | 0;
    this.a = this.b ^ (this.b >>> 9);
    this.b = (this.c + (this.c << 3)) | 0;
    this.c = ((this.c << 21) | (this.c >>> 11)) + sum;
    return (sum >>> 0) / 2 ** 32;
  }

  /** Mean 0, deviation 1; Marsaglia's polar method. */
  normal(): number {
    if (this.spare !== undefined) {
      const { spare } = this;
      this.spare = undefined;
      return spare;
    }
    for (;;) {
      const u = 2 * this.uniform() - 1;
      const v = 2 * this.uniform() - 1;
      const s = u * u + v * v;
      if (s === 0 || s >= 1) continue;
      const scale = Math.sqrt((-2 * Math.log(s)) / s);
      this.spare = v * scale;
      return u * scale;
    }
  }

  /** A count with the given mean; Knuth's product, for small means. */
  poisson(mean: number): number {
    const limit = Math.exp(-mean);
    let product = this.uniform();
    let count = 0;
    for (; product > limit; count++) product *= this.uniform();
    return count;
  }

  /** A whole number from 1, mostly small, with a long tail. */
  size(): number {
    return Math.max(1, Math.round(Math.exp(2.2 + 1.1 * this.normal())));
  }
}
