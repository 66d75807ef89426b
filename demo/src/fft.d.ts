declare module 'fft.js' {
  /** Of a power of two; complex arrays hold real and imaginary parts in turn. */
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    transform(out: number[], data: number[]): void;
    inverseTransform(out: number[], data: number[]): void;
  }
}
