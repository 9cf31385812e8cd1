import type { Region } from '../picture/picture';
import type { ToneOptions } from './reference/tone';
import { kernels } from './wasm';

export type { ToneOptions } from './reference/tone';

/** A picture's samples in the kernels' memory. */
interface Laid {
  planes: number[];
  tables: number;
  figures: number;
}

function laid(options: ToneOptions, part: Region): Laid {
  const { arena } = kernels();
  const { planes, tables, black, span, chromaSpan, rgb, matrix, strength, pale, strongFrom, darkest, fine, uneven, frame } = options;
  const at = arena.reserve(4 * 65536 * tables.length);
  tables.forEach((table, n) => arena.viewFloats(at + 4 * 65536 * n, 65536).set(table));
  // In the order in which ../assembly/tone.ts reads them.
  const figures = Float64Array.of(
    ...[black, 65535 / span, 65535 / chromaSpan],
    ...[rgb[0][2], rgb[1][1], rgb[1][2], rgb[2][1]],
    ...matrix.flat(),
    ...[span / 65535, chromaSpan / 65535, strength, pale, strongFrom, darkest, fine, 0],
    ...matrix[0],
    ...[uneven.across, uneven.down, uneven.corners],
    ...[part.x, part.y, frame.width, frame.height],
  );
  return { planes: planes.map(({ data }) => arena.put16(data)), tables: at, figures: arena.put8(new Uint8Array(figures.buffer)) };
}

/** Lightness of all samples in stops, as `referenceStops`. */
export function toneStops(options: ToneOptions): Float32Array {
  const { run, arena } = kernels();
  return arena.scope(() => {
    const { planes, tables, figures } = laid(options, options.place);
    const count = options.planes[0].data.length;
    const out = arena.reserve(4 * count);
    run.toneStops({ luma: planes[0], cb: planes[1] ?? 0, cr: planes[2] ?? 0, count, tables, figures, out });
    return arena.takeFloats(out, count);
  });
}

/** The samples of a part in another look, as `referenceTone`. */
export function tonePixels(options: ToneOptions, part: Region, moved?: Float32Array): Uint16Array[] {
  const { run, arena } = kernels();
  const { place, codes, uneven, strength, pale } = options;
  return arena.scope(() => {
    const { planes, tables, figures } = laid(options, part);
    const codesAt = arena.put16(codes);
    const first = (part.y - place.y) * place.width + part.x - place.x;
    const size = part.width * part.height;
    const from = (n: number): number => (planes[n] ? planes[n] + 2 * first : 0);
    const out = planes.map(() => arena.reserve(2 * size));
    const evens = uneven.across !== 0 || uneven.down !== 0 || uneven.corners !== 0;
    const direct = moved || evens ? 0 : arena.reserve(2 * 65536 * options.tables.length);
    if (direct) run.toneCodes(tables, 65536 * options.tables.length, codesAt, codes.length - 1, figures, direct);
    run.toneRows({
      ...{ luma: from(0), cb: from(1), cr: from(2), stride: place.width },
      moved: moved ? arena.putFloats(moved) + 4 * first : 0,
      ...{ width: part.width, height: part.height, tables, figures },
      ...{ codes: codesAt, last: codes.length - 1, direct },
      uneven: evens,
      recolours: strength !== 1 || pale !== 1,
      ...{ outLuma: out[0], outCb: out[1] ?? 0, outCr: out[2] ?? 0 },
    });
    return out.map((at) => arena.take16(at, size));
  });
}
