import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { exiftoolPath } from 'exiftool-vendored';
import exifr from 'exifr';
import sharp from 'sharp';
import { drawn, exactBytes, predictedBytes, type Samples, tilesOf, weightsOf } from '../src/media/predictedSize';
import { writeMetadata } from '../src/media/metadata';
import type { About } from '../src/shared/about';
import type { StillAccess } from '../src/shared/jobs';
import type { Row } from './table';

const FOLDER = path.join(process.env.WAIRETIC_TRAINING ?? path.resolve(import.meta.dirname, '../training/made'), 'held');
/** Pictures whose size is predicted, and the width they have. */
const PICTURES = 6,
  WIDTH = 1600;
const FORMATS: [StillAccess, number][] = [
  ['jpeg', 95],
  ['jpeg', 75],
  ['webp', 80],
  ['avif', 65],
];

async function samplesOf(file: string): Promise<Samples> {
  const { data, info } = await sharp(file)
    .resize({ width: WIDTH })
    .removeAlpha()
    .toColourspace('srgb')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { data, width: info.width, height: info.height, channels: 3 };
}

const part = async ({ data, width, height }: Samples, left: number, top: number, w: number, h: number): Promise<Samples> => ({
  data: await sharp(data, { raw: { width, height, channels: 3 } })
    .extract({ left, top, width: w, height: h })
    .raw()
    .toBuffer(),
  ...{ width: w, height: h, channels: 3 as const },
});

/** How far predicted sizes of access copies are off the true ones. */
async function sizes(): Promise<Row[]> {
  if (!existsSync(FOLDER)) throw new Error(`${FOLDER} is missing; "./run train held-out" makes it`);
  const files = readdirSync(FOLDER)
    .filter((name) => name.startsWith('photograph'))
    .sort();
  const step = Math.max(1, Math.floor(files.length / PICTURES));
  const off = new Map<StillAccess, number[]>();
  for (const file of files.filter((_, n) => n % step === 0).slice(0, PICTURES)) {
    const whole = await samplesOf(path.join(FOLDER, file));
    const small = await sharp(whole.data, { raw: { width: whole.width, height: whole.height, channels: 3 } })
      .resize(Math.ceil(whole.width / 4), Math.ceil(whole.height / 4), { fit: 'fill' })
      .raw()
      .toBuffer({ resolveWithObject: true });
    const weights = await weightsOf({ data: small.data, width: small.info.width, height: small.info.height, channels: 3 }, whole);
    const places = tilesOf(whole);
    const tiles = await Promise.all(
      [...drawn(weights)].map(async ([number, times]) => {
        const { x, y, width, height } = places[number];
        return { number, times, samples: await part(whole, x, y, width, height) };
      }),
    );
    for (const [kind, quality] of FORMATS) {
      const told = await predictedBytes({ weights, tiles }, kind, quality),
        is = await exactBytes(whole, kind, quality);
      off.set(kind, [...(off.get(kind) ?? []), Math.abs(told / is - 1)]);
    }
  }
  const group = 'Handing over: predicted size of access copies against the true one (held-out photographs)';
  return [...off].flatMap(([kind, list]) => {
    const worst = Math.max(...list),
      mean = list.reduce((sum, v) => sum + v, 0) / list.length;
    const shown = (v: number): string => `${(100 * v).toFixed(1)} %`;
    return [
      { group, what: `${kind}, worst`, shown: shown(worst), value: worst, atMost: 0.08 },
      { group, what: `${kind}, mean`, shown: shown(mean) },
    ];
  });
}

const ABOUT: About = {
  title: 'Ναυπηγείο, лето, 夏',
  people: ['山田花子', 'Ruth Ågren', 'ფატი', 'أمينة'],
  date: '1921-07-14',
  place: 'Πειραιάς',
  rights: '© Ågren family',
  caption: 'Two lines,\nof which one: हिन्दी',
};

/** Share of what was told that other programs read again. */
async function metadata(): Promise<Row[]> {
  const folder = await mkdtemp(path.join(tmpdir(), 'metadata-'));
  const exiftool = await exiftoolPath();
  const rows: Row[] = [];
  const wanted = [ABOUT.title, ...ABOUT.people, '1921:07:14', ABOUT.place, ABOUT.rights, ABOUT.caption];
  const count = (text: string): number => wanted.filter((word) => text.includes(JSON.stringify(word).slice(1, -1))).length;
  try {
    const read = { exiftool: [0, 0], exifr: [0, 0], libvips: [0, 0] };
    for (const ending of ['jpg', 'tif', 'png', 'webp', 'avif']) {
      const file = path.join(folder, `picture.${ending}`);
      await sharp({ create: { width: 64, height: 48, channels: 3, background: '#886644' } }).toFile(file);
      await writeMetadata({ file, about: ABOUT, done: 'Grain', program: 'Wairetic' });
      const add = (of: keyof typeof read, found: number, all = wanted.length): void => {
        read[of][0] += found;
        read[of][1] += all;
      };
      add('exiftool', count(execFileSync(exiftool, ['-j', file]).toString()));
      const bytes = await readFile(file);
      const xmp = (await sharp(bytes).metadata()).xmp?.toString() ?? '';
      add(
        'libvips',
        [ABOUT.title, ...ABOUT.people, ABOUT.place, ABOUT.rights, ABOUT.caption].filter((word) => xmp.includes(word)).length,
        wanted.length - 1,
      );
      // exifr reads no WebP, and of AVIF no XMP.
      if (!/webp|avif/.test(ending)) {
        const other = JSON.stringify(await exifr.parse(bytes, { xmp: true, tiff: true, reviveValues: false }));
        add('exifr', count(other) + Number(!other.includes('1921:07:14') && other.includes('1921-07-14')));
      }
    }
    for (const [name, [found, all]] of Object.entries(read))
      rows.push({
        group: 'Handing over: metadata in many scripts, read again by other programs',
        what: `${name}: fields found`,
        shown: `${found} of ${all}`,
        value: found / all,
        atLeast: 1,
      });
  } finally {
    await rm(folder, { recursive: true });
  }
  return rows;
}

export const handingOver = async (): Promise<Row[]> => [...(await metadata()), ...(await sizes())];
