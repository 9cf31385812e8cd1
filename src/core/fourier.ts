/** Tables for transforms of one length. */
interface Tables {
  reversed: Uint16Array;
  cosines: Float64Array;
  sines: Float64Array;
}

const known = new Map<number, Tables>();

function tablesOf(length: number): Tables {
  const there = known.get(length);
  if (there) return there;
  const bits = Math.log2(length);
  if (!Number.isInteger(bits)) throw new RangeError(`a transform of ${length} samples: it takes powers of two`);
  const tables: Tables = {
    reversed: Uint16Array.from({ length }, (_, i) => parseInt(i.toString(2).padStart(bits, '0').split('').reverse().join(''), 2)),
    cosines: Float64Array.from({ length: length / 2 }, (_, i) => Math.cos((2 * Math.PI * i) / length)),
    sines: Float64Array.from({ length: length / 2 }, (_, i) => -Math.sin((2 * Math.PI * i) / length)),
  };
  known.set(length, tables);
  return tables;
}

/**
 * Fourier transform of a line of complex samples in place (Cooley and Tukey, 1965).
 * @param start where the line lies; `length` is a power of two.
 */
function transformLine(real: Float64Array, imaginary: Float64Array, start: number, length: number): void {
  const { reversed, cosines, sines } = tablesOf(length);
  for (let i = 0; i < length; i++) {
    const k = reversed[i];
    if (k <= i) continue;
    const a = start + i,
      b = start + k;
    const r = real[a],
      m = imaginary[a];
    real[a] = real[b];
    imaginary[a] = imaginary[b];
    real[b] = r;
    imaginary[b] = m;
  }
  for (let half = 1; half < length; half *= 2) {
    const turn = length / (2 * half);
    for (let block = 0; block < length; block += 2 * half) {
      for (let k = 0; k < half; k++) {
        const a = start + block + k,
          b = a + half;
        const c = cosines[k * turn],
          s = sines[k * turn];
        const r = real[b] * c - imaginary[b] * s,
          m = real[b] * s + imaginary[b] * c;
        real[b] = real[a] - r;
        imaginary[b] = imaginary[a] - m;
        real[a] += r;
        imaginary[a] += m;
      }
    }
  }
}

/**
 * Fourier transform of a raster of complex samples in place.
 * @param width and `height` are powers of two; the raster is a square when the latter is left out.
 */
export function transform(real: Float64Array, imaginary: Float64Array, width: number, height = width): void {
  for (let y = 0; y < height; y++) transformLine(real, imaginary, y * width, width);
  // Columns are gathered first: samples that lie far apart are slow to come by.
  const r = new Float64Array(height),
    m = new Float64Array(height);
  for (let x = 0; x < width; x++) {
    for (let y = 0; y < height; y++) {
      r[y] = real[y * width + x];
      m[y] = imaginary[y * width + x];
    }
    transformLine(r, m, 0, height);
    for (let y = 0; y < height; y++) {
      real[y * width + x] = r[y];
      imaginary[y * width + x] = m[y];
    }
  }
}

/** The way back of `transform`. */
export function transformBack(real: Float64Array, imaginary: Float64Array, width: number, height = width): void {
  transform(imaginary, real, width, height);
  const scale = 1 / (width * height);
  for (let i = 0; i < real.length; i++) {
    real[i] *= scale;
    imaginary[i] *= scale;
  }
}
