import { readFileSync } from 'node:fs';
import path from 'node:path';
import { applicationRoot } from '../kernels/wasm';

/** A tensor of a package's network. */
export interface Weights {
  shape: number[];
  values: Float32Array;
}

interface Told {
  name: string;
  shape: number[];
  dtype: string;
  quantization?: { dtype: string; scale?: number; min?: number };
}

/** Folder of a package. */
export const packageFolder = (name: string): string => path.join(/* turbopackIgnore: true */ applicationRoot(), 'node_modules', name);

/**
 * The weights of a network in the web format of TensorFlow: a list of tensors that lie one after the other in a file, as floats of 32 or 16 bits or as bytes
 * of a scale.
 * @param told the file that lists them, `held` the file that holds them.
 */
export function packageWeights(name: string, told: string, held: string): Map<string, Weights> {
  const folder = packageFolder(name);
  const json = JSON.parse(readFileSync(path.join(folder, told), 'utf8')) as
    { weights: Told[] }[] | { weightsManifest: { weights: Told[] }[] };
  const manifest = Array.isArray(json) ? json : json.weightsManifest;
  const bytes = readFileSync(path.join(folder, held));
  const out = new Map<string, Weights>();
  let at = 0;
  for (const { name: key, shape, dtype, quantization } of manifest.flatMap(({ weights }) => weights)) {
    const count = shape.reduce((product, extent) => product * extent, 1);
    const type = quantization?.dtype ?? dtype;
    const size = type === 'uint8' ? 1 : type === 'float16' ? 2 : 4;
    const values = new Float32Array(count);
    for (let i = 0; i < count; i++) {
      const from = at + i * size;
      if (type === 'uint8') values[i] = bytes[from] * (quantization?.scale ?? 1) + (quantization?.min ?? 0);
      else if (type === 'float16') values[i] = halfFloat(bytes.readUInt16LE(from));
      else if (type === 'int32') values[i] = bytes.readInt32LE(from);
      else values[i] = bytes.readFloatLE(from);
    }
    at += count * size;
    out.set(key, { shape, values });
  }
  return out;
}

/** A float of 16 bits (IEEE 754, binary16). */
export function halfFloat(bits: number): number {
  const sign = bits & 0x8000 ? -1 : 1,
    exponent = (bits >> 10) & 31,
    fraction = bits & 1023;
  if (exponent === 0) return sign * fraction * 2 ** -24;
  if (exponent === 31) return fraction ? NaN : sign * Infinity;
  return sign * (1 + fraction / 1024) * 2 ** (exponent - 15);
}
