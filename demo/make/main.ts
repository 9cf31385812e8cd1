/**
 * Makes the demo's media from the rendered plates: `npx tsx demo/make/main.ts [disc|tape|film|stills|prints ...]`. Needs ffmpeg,
 * espeak-ng, dvdauthor and the DejaVu fonts (Debian packages of these names, and fonts-dejavu-core).
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { makeDisc } from './disc';
import { makeFilm } from './film';
import { makePrints } from './prints';
import { makePortrait, makePrint } from './stills';
import { makeTape } from './tape';

const plates = path.resolve(import.meta.dirname, '../plates');
const truths = path.resolve(import.meta.dirname, '../truth');
const media = (name: string): string => path.resolve(import.meta.dirname, '../media', name);

const work = mkdtempSync(path.join(tmpdir(), 'wairetic-demo-'));
const makers: Record<string, () => Promise<void>> = {
  disc: () => makeDisc(plates, work, media('Regatta disc, title 1.mkv')),
  tape: () => makeTape(plates, media('Cottage lane, tape 3.mpg')),
  film: () => makeFilm(plates, media('Harbour cine film.mov')),
  stills: async () => {
    await makePrint(plates, media('Two on the quay.jpg'));
    await makePortrait(plates, media('Portrait of a child.tif'));
  },
  prints: () => makePrints(plates, media(''), truths),
};
try {
  for (const name of process.argv.length > 2 ? process.argv.slice(2) : Object.keys(makers)) await makers[name]();
} finally {
  rmSync(work, { recursive: true });
}
