import { kernels } from '../kernels/wasm';
import { codes, toRgbMatrix } from './matrix';
import type { Picture } from './picture';

/** Red, green, blue and full opacity, 8 bits each, of a picture: what a screen takes. Rounded as `toRgb` rounds. */
export function toScreen(picture: Picture): Uint8Array {
  const { info } = picture;
  const [y, cb, cr] = picture.planes;
  const { black, luma, chroma } = codes(info.colour.range);
  const m = toRgbMatrix(info.colour.matrix);
  const colour = 255 / chroma;
  const { run, arena } = kernels();
  return arena.scope(() => {
    const at = picture.planes.map((plane) => arena.put16(plane.data));
    const lines = arena.reserve((y.width + 8) * 8),
      out = arena.reserve(y.data.length * 4);
    run.toScreen({
      luma: at[0],
      width: y.width,
      height: y.height,
      cb: at[1] ?? 0,
      cr: at[2] ?? 0,
      chromaWidth: cb?.width ?? 0,
      chromaHeight: cr?.height ?? 0,
      shiftX: info.chromaShiftX,
      shiftY: info.chromaShiftY,
      black,
      gain: 255 / luma,
      rr: m[0][2] * colour,
      gb: m[1][1] * colour,
      gr: m[1][2] * colour,
      bb: m[2][1] * colour,
      lines,
      out,
    });
    return new Uint8Array(arena.memory.buffer, out, y.data.length * 4).slice();
  });
}
