import type { StillSpace } from '../../shared/jobs';
import type { Matrix3, RgbSpace } from './profile';

/** Spaces that results can be handed over in, and their ICC profiles. */

/** `srgb`: IEC 61966-2-1. `display-p3`: SMPTE EG 432-1's primaries with D65. `wide`: ITU-R BT.2020's. All with sRGB's curve. */
export type RgbSpaceName = Exclude<StillSpace, 'source'>;

const NAMES: Record<RgbSpaceName, string> = { srgb: 'sRGB', 'display-p3': 'Display P3', wide: 'Wide RGB (BT.2020 primaries)' };

/** Chromaticities of red, green and blue. */
const PRIMARIES: Record<RgbSpaceName, [number, number][]> = {
  srgb: [
    [0.64, 0.33],
    [0.3, 0.6],
    [0.15, 0.06],
  ],
  'display-p3': [
    [0.68, 0.32],
    [0.265, 0.69],
    [0.15, 0.06],
  ],
  wide: [
    [0.708, 0.292],
    [0.17, 0.797],
    [0.131, 0.046],
  ],
};
const D65: [number, number] = [0.3127, 0.329];
/** White of the profile connection space (ICC.1:2010, 7.2.16). */
const D50 = [0.9642, 1, 0.8249];

/** The curve of sRGB, its parameters as a profile's `para` curve of shape 3 holds them. */
const CURVE = [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045];
const light = (v: number): number => (v >= CURVE[4] ? (CURVE[1] * v + CURVE[2]) ** CURVE[0] : v * CURVE[3]);

export const times = (a: Matrix3, v: readonly number[]): number[] => a.map((row) => row[0] * v[0] + row[1] * v[1] + row[2] * v[2]);

export function product(a: Matrix3, b: Matrix3): Matrix3 {
  const column = (n: number): number[] => times(a, [b[0][n], b[1][n], b[2][n]]);
  const [p, q, r] = [column(0), column(1), column(2)];
  return [0, 1, 2].map((n) => [p[n], q[n], r[n]]) as unknown as Matrix3;
}

export function inverse([[a, b, c], [d, e, f], [g, h, i]]: Matrix3): Matrix3 {
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g);
  return [
    [e * i - f * h, c * h - b * i, b * f - c * e],
    [f * g - d * i, a * i - c * g, c * d - a * f],
    [d * h - e * g, b * g - a * h, a * e - b * d],
  ].map((row) => row.map((v) => v / det)) as unknown as Matrix3;
}

const xyzOf = ([x, y]: [number, number]): number[] => [x / y, 1, (1 - x - y) / y];

/** From linear light to XYZ under D50: primaries scaled to the white, which is adapted (Bradford; ICC.1:2010, annex E). */
function toXyz(name: RgbSpaceName): Matrix3 {
  const columns = PRIMARIES[name].map(xyzOf);
  const primaries = [0, 1, 2].map((n) => columns.map((c) => c[n])) as unknown as Matrix3;
  const gains = times(inverse(primaries), xyzOf(D65));
  const own = primaries.map((row) => row.map((v, n) => v * gains[n])) as unknown as Matrix3;
  const bradford: Matrix3 = [
    [0.8951, 0.2664, -0.1614],
    [-0.7502, 1.7135, 0.0367],
    [0.0389, -0.0685, 1.0296],
  ];
  const from = times(bradford, xyzOf(D65)),
    to = times(bradford, D50);
  const scaled = [0, 1, 2].map((n) => [0, 1, 2].map((m) => (n === m ? to[n] / from[n] : 0))) as unknown as Matrix3;
  return product(product(inverse(bradford), product(scaled, bradford)), own);
}

export const rgbSpace = (name: RgbSpaceName): RgbSpace => ({ name: NAMES[name], curves: [light, light, light], toXyz: toXyz(name) });

/** The ICC profile of a space, or of grey with sRGB's curve (version 4, ICC.1:2010). */
export function profileOf(name: RgbSpaceName | 'grey'): Buffer {
  const curve = parametric();
  const tags: [string, Buffer][] = [
    ['desc', localised(name === 'grey' ? 'Grey' : NAMES[name])],
    ['cprt', localised('No copyright, use freely')],
    ['wtpt', xyz(D50)],
  ];
  if (name === 'grey') tags.push(['kTRC', curve]);
  else {
    const matrix = toXyz(name);
    ['rXYZ', 'gXYZ', 'bXYZ'].forEach((tag, n) => tags.push([tag, xyz(matrix.map((row) => row[n]))]));
    for (const tag of ['rTRC', 'gTRC', 'bTRC']) tags.push([tag, curve]);
  }
  const table = Buffer.alloc(4 + 12 * tags.length);
  table.writeUInt32BE(tags.length, 0);
  let from = 128 + table.length;
  const bodies = tags.map(([tag, body], n) => {
    table.write(tag, 4 + 12 * n, 'latin1');
    table.writeUInt32BE(from, 8 + 12 * n);
    table.writeUInt32BE(body.length, 12 + 12 * n);
    const padded = Buffer.concat([body, Buffer.alloc(-body.length & 3)]);
    from += padded.length;
    return padded;
  });
  return Buffer.concat([header(from, name === 'grey'), table, ...bodies]);
}

function header(size: number, grey: boolean): Buffer {
  const head = Buffer.alloc(128);
  head.writeUInt32BE(size, 0);
  head.writeUInt32BE(0x04300000, 8);
  head.write(grey ? 'mntrGRAYXYZ ' : 'mntrRGB XYZ ', 12, 'latin1');
  // A day that does not change, so that files made again are the same.
  [2026, 1, 1].forEach((v, n) => head.writeUInt16BE(v, 24 + 2 * n));
  head.write('acsp', 36, 'latin1');
  D50.forEach((v, n) => head.writeInt32BE(Math.round(v * 65536), 68 + 4 * n));
  return head;
}

const s15 = (values: readonly number[]): Buffer => {
  const out = Buffer.alloc(4 * values.length);
  values.forEach((v, n) => out.writeInt32BE(Math.round(v * 65536), 4 * n));
  return out;
};

const typed = (kind: string, ...parts: Buffer[]): Buffer => Buffer.concat([Buffer.from(kind, 'latin1'), Buffer.alloc(4), ...parts]);
const xyz = (values: readonly number[]): Buffer => typed('XYZ ', s15(values));
const parametric = (): Buffer => typed('para', Buffer.from([0, 3, 0, 0]), s15(CURVE));

/** Text in one language. */
function localised(words: string): Buffer {
  const utf16 = Buffer.from(words, 'utf16le').swap16();
  const head = Buffer.alloc(20);
  head.writeUInt32BE(1, 0);
  head.writeUInt32BE(12, 4);
  head.write('enUS', 8, 'latin1');
  head.writeUInt32BE(utf16.length, 12);
  head.writeUInt32BE(28, 16);
  return typed('mluc', head, utf16);
}
