declare module 'fft.js' {
  /** Fast Fourier transforms of a size that is a power of two; complex numbers lie in pairs. */
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    transform(out: number[], data: readonly number[]): void;
    inverseTransform(out: number[], data: readonly number[]): void;
  }
}
