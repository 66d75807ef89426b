import FFT from 'fft.js';

/** Up to so many rows each frequency is added up by itself, which keeps the most digits. */
const FEW_ROWS = 4096;

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
  // e^(-pi i t^2 / n), its square taken modulo 2n so that large t keep their digits
  const angle = (t: number) => (Math.PI * Number((BigInt(t) * BigInt(t)) % BigInt(2 * n))) / n;
  const signal = fft.createComplexArray() as number[];
  const chirp = fft.createComplexArray() as number[];
  const [cosine, sine] = [new Float64Array(n), new Float64Array(n)];
  signal.fill(0);
  chirp.fill(0);
  for (let t = 0; t < n; t++) {
    const at = angle(t);
    cosine[t] = Math.cos(at);
    sine[t] = Math.sin(at);
    signal[2 * t] = x[t] * cosine[t];
    signal[2 * t + 1] = -x[t] * sine[t];
    for (const place of t === 0 ? [0] : [t, size - t]) {
      chirp[2 * place] = cosine[t];
      chirp[2 * place + 1] = sine[t];
    }
  }
  const [a, b] = [fft.createComplexArray() as number[], fft.createComplexArray() as number[]];
  fft.transform(a, signal);
  fft.transform(b, chirp);
  for (let i = 0; i < 2 * size; i += 2) {
    const real = a[i] * b[i] - a[i + 1] * b[i + 1];
    a[i + 1] = a[i] * b[i + 1] + a[i + 1] * b[i];
    a[i] = real;
  }
  fft.inverseTransform(b, a);
  return Float64Array.from({ length: count }, (_, index) => {
    const j = index + 1;
    return (b[2 * j] ** 2 + b[2 * j + 1] ** 2) / n; // the last turn changes no length
  });
}
