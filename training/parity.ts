/** Checks that onnxruntime-node gives what Python gave for the example of an export: `parity.ts NAME ...`. */
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { network, networkCard, type NetworkName } from '../src/core/networks/model';

/** The example's size, as `export.py` makes it. */
const HEIGHT = 24,
  WIDTH = 40;
/** Corrections are codes over 255: this much is a fortieth of a code. */
const TOLERANCE = 1e-4;
/**
 * A network of eight bits rounds features where sums in another order lie on the other side of a half: single samples differ by more, and all of
 * them together by little. At most, and on average.
 */
const EIGHT_BIT = { most: 0.02, mean: 2e-3 };

const folder = process.env.WAIRETIC_TRAINING ?? path.join(import.meta.dirname, 'made');
for (const name of process.argv.slice(2) as NetworkName[]) {
  const { inputs, eightBit } = networkCard(name);
  const bytes = await readFile(path.join(folder, `${name}.example`));
  const all = new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
  const expected = all.subarray(inputs * HEIGHT * WIDTH);
  const result = await (await network(name)).run(all.slice(0, inputs * HEIGHT * WIDTH), inputs, HEIGHT, WIDTH);
  const offs = [...expected].map((v, i) => Math.abs(v - result[i]));
  const most = offs.reduce((a, b) => Math.max(a, b), 0),
    mean = offs.reduce((sum, v) => sum + v, 0) / offs.length;
  const agrees = eightBit ? most < EIGHT_BIT.most && mean < EIGHT_BIT.mean : most < TOLERANCE;
  process.stdout.write(`${name}: differs by ${most.toExponential(1)} at most, ${mean.toExponential(1)} on average\n`);
  if (!agrees || result.length !== expected.length) {
    process.stderr.write(`${name}: the program's answer is not Python's\n`);
    process.exitCode = 1;
  }
}
