import { lumaLimits, type Picture, type Plane } from '../picture/picture';

export interface Bars {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** Codes of 255 above black up to which a line of a bar is dark, and by which its lines may differ. */
const DARK = 9,
  LEVEL = 3;
/** Share of a line that specks of noise may make bright. */
const SPECKS = 0.01;
/** Share of the line behind a bar that must be lighter than the bar, in one frame at least: the picture begins there all at once. */
const BEGINS = 0.5;
/** Lines in which it has to. */
const WITHIN = 4;
/** Least thickness: blanking beside video, letterbox above it, and of a still's side. */
const LEAST_BESIDE = 2,
  LEAST_ABOVE = 4,
  LEAST_SHARE = 0.008;

/** One line of a picture, seen from an edge: its samples are \`at\`, \`at + step\`, ... */
interface Side {
  lines: number;
  length: number;
  sample: (plane: Plane, line: number, n: number) => number;
}

/**
 * Black bars at the edges of a clip or still: flat, level, dark in every frame, of a plausible size, and ended by the picture all
 * at once. The dark edge of a picture is none.
 *
 * @param pictures frames of one size.
 */
export function measureBars(pictures: Picture[]): Bars {
  const planes = pictures.map((p) => p.planes[0]);
  const { width, height } = planes[0];
  const { range } = pictures[0].info.colour;
  const still = pictures[0].info.frames === 1;
  const across = { lines: height, length: width },
    down = { lines: width, length: height };
  const side = (name: keyof Bars): Side =>
    ({
      top: { ...across, sample: (p: Plane, line: number, n: number) => p.data[line * width + n] },
      bottom: { ...across, sample: (p: Plane, line: number, n: number) => p.data[(height - 1 - line) * width + n] },
      left: { ...down, sample: (p: Plane, line: number, n: number) => p.data[n * width + line] },
      right: { ...down, sample: (p: Plane, line: number, n: number) => p.data[n * width + width - 1 - line] },
    })[name];
  const limit = (lumaLimits(range).black >> 8) + DARK;
  const found = (name: keyof Bars): number => {
    const of = side(name);
    const thickness = barOf(planes, of, limit);
    const least = Math.max(name === 'top' || name === 'bottom' ? LEAST_ABOVE : LEAST_BESIDE, still ? LEAST_SHARE * of.lines : 0);
    return thickness >= least ? thickness : 0;
  };
  const bars = { left: found('left'), right: found('right'), top: found('top'), bottom: found('bottom') };
  // A frame that is dark all over has no bars.
  return bars.top + bars.bottom >= height - 1 || bars.left + bars.right >= width - 1 ? { left: 0, right: 0, top: 0, bottom: 0 } : bars;
}

function barOf(planes: Plane[], side: Side, limit: number): number {
  let thickness = Math.floor(side.lines / 2);
  for (const plane of planes) {
    let first: number | undefined;
    for (let line = 0; line < thickness; line++) {
      let sum = 0,
        bright = 0;
      for (let n = 0; n < side.length; n++) {
        const code = side.sample(plane, line, n) / 256;
        sum += code;
        if (code > limit) bright++;
      }
      const level = sum / side.length;
      first ??= level;
      if (bright > SPECKS * side.length || Math.abs(level - first) > LEVEL) thickness = line;
    }
  }
  if (thickness === 0) return 0;
  const begins = planes.some((plane) => {
    for (let line = thickness; line < Math.min(side.lines, thickness + WITHIN); line++) {
      let lighter = 0;
      for (let n = 0; n < side.length; n++) if (side.sample(plane, line, n) / 256 > limit) lighter++;
      if (lighter >= BEGINS * side.length) return true;
    }
    return false;
  });
  return begins ? thickness : 0;
}
