import FFT from 'fft.js';

/** Up to so many rows each frequency is added up by itself, which keeps the most digits. */
const FEW_ROWS = 512;

/**
 * Power of a column at j whole swings over its rows, j from 1: |sum x e^(-2 pi i j t/n)|^2 / n.
 * @param count  of frequencies
 */
export function powersOf(x: Float64Array, count: number): Float64Array {
  return x.length <= FEW_ROWS ? oneByOne(x, count) : byTransform(x, count);
}

function oneByOne(x: Float64Array, count: number): Float64Array {
  const n = x.length;
  const cosine = Float64Array.from({ length: n }, (_, i) => Math.cos((2 * Math.PI * i) / n));
  const sine = Float64Array.from({ length: n }, (_, i) => Math.sin((2 * Math.PI * i) / n));
  return Float64Array.from({ length: count }, (_, index) => {
    const j = index + 1;
    let [real, imaginary, at] = [0, 0, 0];
    for (let t = 0; t < n; t++) {
      real += x[t] * cosine[at];
      imaginary -= x[t] * sine[at];
      at += j;
      if (at >= n) at -= n;
    }
    return (real * real + imaginary * imaginary) / n;
  });
}

/**
 * By fast transforms of a length that is a power of two (Bluestein 1970): a transform of any length is a convolution with
 * swings that become quicker.
 */
function byTransform(x: Float64Array, count: number): Float64Array {
  const n = x.length;
  const size = 2 ** Math.ceil(Math.log2(2 * n));
  const fft = new FFT(size);
  const [signal, chirp, product] = [new Float64Array(2 * size), new Float64Array(2 * size), new Float64Array(2 * size)];
  for (let t = 0; t < n; t++) {
    // e^(-pi i t^2 / n), its square taken modulo 2n so that large t keep their digits; exact up to 2^53
    const angle = (Math.PI * ((t * t) % (2 * n))) / n;
    const [cosine, sine] = [Math.cos(angle), Math.sin(angle)];
    signal[2 * t] = x[t] * cosine;
    signal[2 * t + 1] = -x[t] * sine;
    const mirrored = (size - t) % size;
    chirp[2 * t] = chirp[2 * mirrored] = cosine;
    chirp[2 * t + 1] = chirp[2 * mirrored + 1] = sine;
  }
  fft.transform(product, signal);
  const spectrum = signal; // its values are not needed any more
  fft.transform(spectrum, chirp);
  for (let i = 0; i < 2 * size; i += 2) {
    const real = product[i] * spectrum[i] - product[i + 1] * spectrum[i + 1];
    product[i + 1] = product[i] * spectrum[i + 1] + product[i + 1] * spectrum[i];
    product[i] = real;
  }
  const found = chirp;
  fft.inverseTransform(found, product);
  return Float64Array.from({ length: count }, (_, index) => {
    const j = index + 1;
    return (found[2 * j] ** 2 + found[2 * j + 1] ** 2) / n; // the last turn changes no length
  });
}
