import FFT from 'fft.js';
import type { Random } from './random.js';

/**
 * Exact fractional Gaussian noise of deviation 1.
 * @param hurst  its H: 0.5 has no memory, above persists, below swings back
 * @see Davies and Harte 1987 (circulant embedding)
 */
export function fractionalNoise(steps: number, hurst: number, random: Random): Float64Array {
  const half = 2 ** Math.ceil(Math.log2(steps));
  const size = 2 * half;
  const covariance = (lag: number) =>
    0.5 * (Math.abs(lag + 1) ** (2 * hurst) - 2 * Math.abs(lag) ** (2 * hurst) + Math.abs(lag - 1) ** (2 * hurst));
  const fft = new FFT(size);
  const circle = fft.createComplexArray();
  for (let i = 0; i < size; i++) {
    circle[2 * i] = covariance(i <= half ? i : size - i);
    circle[2 * i + 1] = 0;
  }
  const eigenvalues = fft.createComplexArray();
  fft.transform(eigenvalues, circle);
  const spectrum = fft.createComplexArray();
  const weight = (i: number) => Math.sqrt(Math.max(0, eigenvalues[2 * i]) * size);
  spectrum[0] = weight(0) * random.normal();
  spectrum[1] = 0;
  spectrum[size] = weight(half) * random.normal();
  spectrum[size + 1] = 0;
  for (let i = 1; i < half; i++) {
    const real = (weight(i) * random.normal()) / Math.SQRT2;
    const imaginary = (weight(i) * random.normal()) / Math.SQRT2;
    spectrum[2 * i] = real;
    spectrum[2 * i + 1] = imaginary;
    spectrum[2 * (size - i)] = real;
    spectrum[2 * (size - i) + 1] = -imaginary;
  }
  const noise = fft.createComplexArray();
  fft.inverseTransform(noise, spectrum);
  return Float64Array.from({ length: steps }, (_, i) => noise[2 * i]);
}
