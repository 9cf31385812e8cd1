/** Leaves of the family's album: portraits through eighty years, mounted on card, each printed as prints of its year were. */
import { ALBUM } from '../people/sheet';
import { dust, fadedDyes, ground, laidDown, scratches, softened, toned, unevenFading, vignette } from './carriers';
import { addGrain } from './faults';
import { copy, crop, framed, type Made, SEPIA, SILVER } from './mounting';
import type { Raster } from './raster';

/** Portraits of a row, and the blank round each, in pixels. */
const ROW = 4,
  BLANK = 56;
const CARD: [number, number, number] = [88, 76, 64];

/** What became of a portrait of a year. */
async function aged(clean: Raster, year: number, seed: number): Promise<Raster> {
  const picture = copy(clean);
  await softened(picture, year < 1950 ? 0.9 : 0.6);
  vignette(picture, 0.2);
  addGrain(picture, seed, year < 1950 ? 6 : 4, year < 1960 ? 0 : 2, 0.8);
  if (year < 1940) toned(picture, ...SEPIA);
  else if (year < 1960) toned(picture, ...SILVER);
  else if (year < 1990) fadedDyes(picture, year < 1975 ? [0.6, 0.9, 0.7] : [0.8, 0.92, 0.8], [250, 232, 214]);
  if (year < 1960) unevenFading(picture, seed + 1, [226, 212, 182], 0.03, 0.18);
  scratches(picture, seed + 2, year < 1960 ? 3 : 1, [232, 224, 206]);
  dust(picture, seed + 3, 14, [240, 234, 220], [40, 34, 30]);
  return picture;
}

/** @param plate the portraits side by side, in the order of the leaf. */
export async function albumLeaf(plate: Raster, year: number): Promise<Made> {
  const { width, height } = ALBUM;
  const count = plate.width / width;
  const border = year < 1960 ? 12 : 8;
  const [w, h] = [width + 2 * border, height + 2 * border];
  const rows = Math.ceil(count / ROW),
    columns = Math.min(ROW, count);
  const leaf = ground(columns * (w + BLANK) + BLANK, rows * (h + BLANK) + BLANK, year, CARD, 0.05, [9, 9]);
  let made: Made = { picture: leaf, truth: leaf };
  for (let n = 0; n < count; n++) {
    const clean = crop(plate, n * width, 0, width, height);
    const truth = copy(clean);
    if (year < 1940) toned(truth, ...SEPIA);
    else if (year < 1960) toned(truth, ...SILVER);
    const left = BLANK + (n % ROW) * (w + BLANK),
      top = BLANK + Math.floor(n / ROW) * (h + BLANK);
    // Nobody mounts them quite straight.
    const askew = 5 * Math.sin(7 * n + year);
    const corners: [number, number][] = [
      [left - askew, top + askew],
      [left + w - askew, top - askew],
      [left + w + askew, top + h - askew],
      [left + askew, top + h + askew],
    ];
    const white: [number, number, number] = year < 1960 ? [230, 220, 198] : [240, 234, 226];
    made = {
      picture: laidDown(framed(await aged(clean, year, 900 + 10 * n + year), border, white), corners, made.picture, 4),
      truth: laidDown(framed(truth, border, white), corners, made.truth, 4),
    };
  }
  return made;
}
