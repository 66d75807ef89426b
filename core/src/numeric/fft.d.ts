declare module 'fft.js' {
  /** Fast Fourier transforms of a size that is a power of two; complex numbers lie in pairs. */
  export default class FFT {
    constructor(size: number);
    /** `out` is another array than `data`. */
    transform(out: Float64Array, data: Float64Array): void;
    inverseTransform(out: Float64Array, data: Float64Array): void;
  }
}
