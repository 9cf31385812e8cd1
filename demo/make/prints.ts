/** The archive's prints, slide and clipping: from the rendered plates through what happened to each in its years. */
import { mkdirSync } from 'node:fs';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import {
  cracks,
  dust,
  each,
  fadedDyes,
  fold,
  glare,
  ground,
  hairs,
  halftone,
  laidDown,
  scratches,
  sensorNoise,
  silkPaper,
  silverMirror,
  slideFilm,
  softened,
  toned,
  unevenFading,
  vignette,
} from './carriers';
import { addGrain } from './faults';
import { newspaper } from './newspaper';
import { ALBUM } from '../people/sheet';
import { albumLeaf } from './album';
import { copy, crop, framed, type Made, resized, type Rgb, SEPIA, SILVER } from './mounting';
import { bytesOf, loadPlate, type Raster } from './raster';

interface Print {
  file: string;
  make(plate: (name: string) => Promise<Raster>): Promise<Made>;
  /** Writes the file. */
  format(image: Sharp): Sharp;
}

/** A studio's print of the early years, on its card. */
async function couple(clean: Raster): Promise<Made> {
  const truth = copy(clean);
  vignette(truth, 0.3);
  toned(truth, ...SEPIA);
  const picture = copy(clean);
  await softened(picture, 1.6, 0.75);
  await softened(picture, 9, 0.18);
  vignette(picture, 0.35);
  addGrain(picture, 210, 7, 0, 1);
  toned(picture, ...SEPIA);
  unevenFading(picture, 214, [226, 205, 168], 0.08, 0.3);
  silverMirror(picture, 211, 130);
  cracks(picture, 212, 7);
  scratches(picture, 213, 9, [222, 206, 176]);
  dust(picture, 215, 160, [240, 228, 204], [46, 34, 26]);
  const card: Rgb = [198, 180, 146];
  return { picture: framed(picture, 44, card), truth: framed(truth, 44, card) };
}

/** A glossy print of many, kept folded. */
async function group(clean: Raster): Promise<Made> {
  const truth = copy(clean);
  toned(truth, ...SILVER);
  const picture = copy(clean);
  await softened(picture, 0.9);
  vignette(picture, 0.25);
  addGrain(picture, 310, 9, 0, 0.8);
  toned(picture, ...SILVER);
  unevenFading(picture, 312, [222, 212, 188], 0.05, 0.42);
  fold(picture, 313, [picture.width * 0.545, -5], [picture.width * 0.53, picture.height + 5]);
  scratches(picture, 314, 8, [230, 226, 214]);
  dust(picture, 315, 240, [240, 238, 230], [24, 22, 20]);
  hairs(picture, 316, 2, [236, 232, 224], 1.3);
  const white: Rgb = [232, 226, 208];
  return { picture: framed(picture, 34, white), truth: framed(truth, 34, white) };
}

/** A colour snapshot whose cyan dye went first, on silk paper. */
async function snapshot(plate: Raster): Promise<Made> {
  const clean = crop(plate, 0, 0, plate.width, plate.height - 30);
  const truth = copy(clean);
  const picture = copy(clean);
  await softened(picture, 1.1);
  vignette(picture, 0.22);
  addGrain(picture, 410, 6, 3, 0.8);
  fadedDyes(picture, [0.5, 0.92, 0.74], [250, 226, 214]);
  silkPaper(picture, 7.3, 4.5);
  scratches(picture, 413, 14, [246, 232, 226]);
  dust(picture, 415, 90, [250, 240, 234], [60, 30, 40], 0.85);
  const white: Rgb = [243, 233, 222];
  return { picture: framed(picture, 40, white), truth: framed(truth, 40, white) };
}

/** A colour print from an album, its yellow gone and its paper yellowed, with a bent corner. */
async function albumPrint(clean: Raster): Promise<Made> {
  const truth = copy(clean);
  const picture = copy(clean);
  await softened(picture, 1.15);
  vignette(picture, 0.3);
  addGrain(picture, 460, 6, 3, 0.8);
  fadedDyes(picture, [0.78, 0.82, 0.55], [248, 236, 206]);
  fold(picture, 463, [picture.width * 0.82, -5], [picture.width + 5, picture.height * 0.2]);
  scratches(picture, 464, 6, [246, 238, 220]);
  dust(picture, 465, 110, [250, 244, 230], [50, 40, 30], 0.8);
  const white: Rgb = [240, 230, 204];
  return { picture: framed(picture, 36, white), truth: framed(truth, 36, white) };
}

/** A slide in its mount, scanned with the dirt on it. */
async function slide(harbour: Raster): Promise<Made> {
  const truth = crop(harbour, 620, 60, 1200, 800);
  const picture = copy(truth);
  await softened(picture, 0.7);
  slideFilm(picture, [0.76, 0.93, 1.16], 1.75);
  addGrain(picture, 510, 5, 4, 0.6);
  hairs(picture, 511, 4, [6, 7, 12], 2.2);
  dust(picture, 512, 130, [230, 236, 250], [6, 8, 14], 0.06);
  // The mount's opening has round corners.
  for (const p of [picture, truth]) {
    each(p, (o, x, y) => {
      const dx = Math.max(0, Math.abs(x - p.width / 2) - p.width / 2 + 46),
        dy = Math.max(0, Math.abs(y - p.height / 2) - p.height / 2 + 46);
      const outside = Math.min(1, Math.max(0, Math.hypot(dx, dy) - 34));
      for (let c = 0; c < 3; c++) p.data[o + c] *= 1 - outside * 0.98;
    });
  }
  return { picture: framed(picture, 26, [5, 5, 6]), truth: framed(truth, 26, [5, 5, 6]) };
}

/** A column of the local paper with the group's picture, cut out and kept. */
async function clipping(clean: Raster): Promise<Made> {
  const part = crop(await resized(clean, 1270), 45, 60, 1180, 760);
  toned(part, [0, 0, 0], [128, 128, 128], [255, 255, 255]);
  const printed = copy(part);
  each(printed, (o) => {
    for (let c = 0; c < 3; c++) printed.data[o + c] = 20 + 1.25 * printed.data[o + c];
  });
  halftone(printed, 38, 4.3, [52, 48, 44], [216, 204, 172]);
  const [page, whole] = await Promise.all([newspaper(printed), newspaper(part)]);
  await softened(page, 0.8);
  unevenFading(page, 611, [206, 186, 140], 0.03, 0.24);
  fold(page, 612, [-5, page.height * 0.47], [page.width + 5, page.height * 0.475]);
  dust(page, 613, 60, [230, 220, 190], [70, 60, 48], 0.4);
  sensorNoise(page, 614, 2.2, 0.8);
  return { picture: page, truth: whole };
}

const TABLE: Rgb = [112, 84, 58];

/** The studio portrait lying on a table, photographed in passing. */
async function photographed(clean: Raster): Promise<Made> {
  const truth = copy(clean);
  toned(truth, ...SEPIA);
  const print = copy(truth);
  unevenFading(print, 712, [226, 205, 168], 0.05, 0.2);
  dust(print, 715, 60, [240, 228, 204], [46, 34, 26]);
  const table = ground(1280, 960, 716, TABLE, 0.3, [46, 3]);
  const corners: [number, number][] = [
    [372, 96],
    [921, 138],
    [1004, 884],
    [262, 846],
  ];
  const lay = (p: Raster): Raster => laidDown(framed(p, 30, [228, 216, 190]), corners, table);
  const picture = lay(print);
  await softened(picture, 1);
  glare(picture, 760, 250, 190, 0.5);
  vignette(picture, 0.3);
  sensorNoise(picture, 717, 5, 4);
  return { picture, truth: lay(truth) };
}

/** Three prints on the glass of a flatbed scanner, one of them askew. */
async function onTheGlass(plate: (name: string) => Promise<Raster>): Promise<Made> {
  const lid = ground(1640, 1340, 810, [231, 232, 230], 0.01, [2, 2]);
  const turned = (x: number, y: number, width: number, height: number, degrees: number): [number, number][] => {
    const a = (degrees * Math.PI) / 180;
    return [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ].map(([u, v]) => {
      const dx = (u * width) / 2,
        dy = (v * height) / 2;
      return [x + dx * Math.cos(a) - dy * Math.sin(a), y + dx * Math.sin(a) + dy * Math.cos(a)];
    });
  };
  const prints = [
    { made: await group(await plate('group')), at: turned(500, 330, 860, 586, 0.4) },
    { made: await snapshot(await plate('cousins')), at: turned(560, 970, 800, 568, 6.5) },
    { made: await couple(await plate('couple')), at: turned(1290, 560, 560, 688, -0.7) },
  ];
  let scan: Made = { picture: lid, truth: lid };
  for (const { made, at } of prints) {
    const { picture, truth } = scan;
    scan = { picture: laidDown(made.picture, at, picture, 5), truth: laidDown(made.truth, at, truth, 5) };
  }
  sensorNoise(scan.picture, 811, 1.6, 1);
  dust(scan.picture, 812, 40, [250, 250, 250], [70, 70, 70], 0.4);
  return scan;
}

const jpeg =
  (quality: number, chromaSubsampling = '4:4:4') =>
  (image: Sharp): Sharp =>
    image.withDensity(300).jpeg({ quality, chromaSubsampling });

const PRINTS: Print[] = [
  {
    file: 'Edwin and Lilian, 1921.tif',
    make: async (plate) => couple(await plate('couple')),
    format: (image) => image.tiff({ compression: 'deflate', predictor: 'horizontal', xres: 400 / 25.4, yres: 400 / 25.4 }),
  },
  { file: 'Launching day, 1948.jpg', make: async (plate) => group(await plate('group')), format: jpeg(88) },
  { file: 'Christmas 1962.jpg', make: async (plate) => albumPrint(await plate('family')), format: jpeg(88) },
  { file: 'Janet and Peter, 1974.jpg', make: async (plate) => snapshot(await plate('cousins')), format: jpeg(90) },
  { file: 'Slide 14, the harbour.jpg', make: async (plate) => slide(await plate('harbour')), format: jpeg(92) },
  {
    file: 'Cutting, launching day.jpg',
    make: async (plate) => clipping(await plate('group')),
    format: jpeg(86),
  },
  { file: 'Photo of a photo.jpg', make: async (plate) => photographed(await plate('couple')), format: jpeg(48, '4:2:0') },
  { file: 'Three on the glass.jpg', make: (plate) => onTheGlass(plate), format: jpeg(91) },
  ...ALBUM.leaves.map(({ year }): Print => ({
    file: `Album leaf, ${year}.jpg`,
    make: async (plate) => albumLeaf(await plate(`album-${year}`), year),
    format: jpeg(90),
  })),
];

/** Makes all of them, or the one of that file name; the truth beside them at half size. */
export async function makePrints(plates: string, media: string, truths: string, only?: string): Promise<void> {
  mkdirSync(truths, { recursive: true });
  const plate = (name: string): Promise<Raster> => loadPlate(path.join(plates, `${name}.png`));
  const image = (p: Raster): Sharp => sharp(bytesOf(p), { raw: { width: p.width, height: p.height, channels: 3 } });
  for (const print of PRINTS) {
    if (only !== undefined && print.file !== only) continue;
    const { picture, truth } = await print.make(plate);
    await print.format(image(picture)).toFile(path.join(media, print.file));
    await image(truth)
      .resize(Math.round(truth.width / 2))
      .jpeg({ quality: 92 })
      .toFile(path.join(truths, `${path.parse(print.file).name}.jpg`));
  }
}
