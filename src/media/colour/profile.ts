/** ICC profiles of matrix and curves (ICC.1:2010, 8.3), which those of cameras, scanners and screens are. */

/** Three rows of three. */
export type Matrix3 = readonly [readonly number[], readonly number[], readonly number[]];

/** A space of red, green and blue: from codes to light, and from light to CIE XYZ under D50. */
export interface RgbSpace {
  name: string;
  /** Light, 0 to 1, of a code from 0 to 1, for each colour. */
  curves: readonly ((code: number) => number)[];
  toXyz: Matrix3;
}

const text = (icc: Buffer, from: number, to: number): string => icc.subarray(from, to).toString('latin1');
const fixed = (icc: Buffer, at: number): number => icc.readInt32BE(at) / 65536;

/** Where a profile's tags lie. */
function tagsOf(icc: Buffer): Map<string, { from: number; size: number }> {
  const tags = new Map<string, { from: number; size: number }>();
  const count = Math.min(100, icc.readUInt32BE(128));
  for (let n = 0; n < count; n++) {
    const at = 132 + 12 * n;
    const from = icc.readUInt32BE(at + 4),
      size = icc.readUInt32BE(at + 8);
    if (from + size <= icc.length) tags.set(text(icc, at, at + 4), { from, size });
  }
  return tags;
}

/** The space a profile describes. @returns undefined where it is damaged, or no space of red, green and blue by matrix and curves. */
export function readProfile(icc: Buffer): RgbSpace | undefined {
  try {
    if (icc.length < 132 || text(icc, 36, 40) !== 'acsp' || text(icc, 16, 20) !== 'RGB ' || text(icc, 20, 24) !== 'XYZ ') return undefined;
    const tags = tagsOf(icc);
    // Tables are what counts where there are any.
    if (tags.has('A2B0')) return undefined;
    const place = (name: string): number => {
      const tag = tags.get(name);
      if (!tag) throw new RangeError(`no ${name}`);
      return tag.from;
    };
    const columns = ['rXYZ', 'gXYZ', 'bXYZ'].map((name) => [8, 12, 16].map((at) => fixed(icc, place(name) + at)));
    const row = (n: number): number[] => columns.map((column) => column[n]);
    return {
      name: nameOf(icc, tags.get('desc')) || 'embedded profile',
      curves: ['rTRC', 'gTRC', 'bTRC'].map((name) => curveOf(icc, place(name))),
      toXyz: [row(0), row(1), row(2)],
    };
  } catch {
    return undefined;
  }
}

function nameOf(icc: Buffer, tag: { from: number; size: number } | undefined): string {
  if (!tag) return '';
  const { from } = tag;
  if (text(icc, from, from + 4) === 'desc')
    return text(icc, from + 12, from + 12 + Math.max(0, Math.min(200, icc.readUInt32BE(from + 8) - 1)));
  if (text(icc, from, from + 4) !== 'mluc') return '';
  const length = Math.min(400, icc.readUInt32BE(from + 20)),
    start = from + icc.readUInt32BE(from + 24);
  return Buffer.from(icc.subarray(start, start + (length & ~1)))
    .swap16()
    .toString('utf16le');
}

/** A curve from codes to light (10.5 `curv` and 10.15 `para`). */
function curveOf(icc: Buffer, at: number): (code: number) => number {
  const kind = text(icc, at, at + 4);
  if (kind === 'curv') {
    const count = icc.readUInt32BE(at + 8);
    if (count === 0) return (v) => v;
    if (count === 1) return power(icc.readUInt16BE(at + 12) / 256);
    if (count > 65536) throw new RangeError('a curve of too many points');
    const table = Array.from({ length: count }, (_, n) => icc.readUInt16BE(at + 12 + 2 * n) / 65535);
    return (v) => {
      const place = Math.min(count - 1, Math.max(0, v * (count - 1))),
        n = Math.min(count - 2, Math.floor(place));
      return table[n] + (table[n + 1] - table[n]) * (place - n);
    };
  }
  if (kind !== 'para') throw new RangeError('no curve');
  const shape = icc.readUInt16BE(at + 8);
  const [g, a = 1, b = 0, c = 0, d = 0, e = 0, f = 0] = Array.from({ length: [1, 3, 4, 5, 7][shape] }, (_, n) =>
    fixed(icc, at + 12 + 4 * n),
  );
  const raised = (v: number): number => Math.max(0, a * v + b) ** g;
  if (shape === 0) return power(g);
  if (shape === 1) return (v) => (v >= -b / a ? raised(v) : 0);
  if (shape === 2) return (v) => (v >= -b / a ? raised(v) + c : c);
  if (shape === 3) return (v) => (v >= d ? raised(v) : c * v);
  return (v) => (v >= d ? raised(v) + e : c * v + f);
}

const power =
  (gamma: number) =>
  (v: number): number =>
    Math.max(0, v) ** gamma;
