/**
 * The tone of a print, Cb and Cr about 0 for each of `STEPS` lightnesses: a silver print has one colour for each, whatever lies over it. Sepia, or grey.
 */
export interface PrintTone {
  blue: number[];
  red: number[];
}

const STEPS = 17;
/** Mean difference from the tone, in codes of 255, up to which a picture has no other colours. */
const MONOCHROME = 5;
/** Places of a lightness that tell its colour. */
const FEWEST = 12;

/** A raster of Y', Cb and Cr, Y' over 1 and the others about 0. */
interface Raster {
  luma: ArrayLike<number>;
  blue: ArrayLike<number>;
  red: ArrayLike<number>;
}

/** The tone of what is clear of a veil; undefined where it is in colour, or too little of it is clear. */
export function toneOf({ luma, blue, red }: Raster, clear: Uint8Array): PrintTone | undefined {
  const sums = Array.from({ length: STEPS }, () => ({ blue: 0, red: 0, count: 0 }));
  const stepOf = (y: number): number => Math.min(STEPS - 1, Math.max(0, Math.round(y * (STEPS - 1))));
  for (let i = 0; i < clear.length; i++) {
    if (!clear[i]) continue;
    const sum = sums[stepOf(luma[i])];
    sum.blue += blue[i];
    sum.red += red[i];
    sum.count++;
  }
  const told = sums.flatMap(({ count }, step) => (count >= FEWEST ? [step] : []));
  if (told.length < 2) return undefined;
  const tone: PrintTone = { blue: [], red: [] };
  for (let step = 0; step < STEPS; step++) {
    const { blue, red, count } = sums[told.reduce((best, each) => (Math.abs(each - step) < Math.abs(best - step) ? each : best))];
    tone.blue.push(blue / count);
    tone.red.push(red / count);
  }
  let off = 0,
    all = 0;
  for (let i = 0; i < clear.length; i++) {
    if (!clear[i]) continue;
    off += Math.hypot(blue[i] - toneAt(tone.blue, luma[i]), red[i] - toneAt(tone.red, luma[i]));
    all++;
  }
  return (255 * off) / all <= MONOCHROME ? tone : undefined;
}

/** One of a tone's colours at a lightness, 0 to 1. */
export function toneAt(steps: readonly number[], y: number): number {
  const at = Math.min(STEPS - 1, Math.max(0, y * (STEPS - 1))),
    before = Math.min(STEPS - 2, Math.floor(at));
  return steps[before] + (steps[before + 1] - steps[before]) * (at - before);
}
