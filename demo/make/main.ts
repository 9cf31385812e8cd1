/**
 * Makes the demo's media from the rendered plates: `npx tsx demo/make/main.ts [NAME ...]`. Needs ffmpeg,
 * espeak-ng, dvdauthor and the DejaVu fonts (Debian packages of these names, and fonts-dejavu-core).
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { makeDisc } from './disc';
import { makeDrawn } from './drawn';
import { makeFilm } from './film';
import { makeFilm16 } from './film16';
import { makePrints } from './prints';
import { makeLarge } from './large';
import { makeCutOff, makeLateSound, makeWebClip } from './small';
import { makePortrait, makePrint } from './stills';
import { makeTape } from './tape';
import { makeCamcorder, makeSharpTape } from './tapes';

const plates = path.resolve(import.meta.dirname, '../plates');
const truths = path.resolve(import.meta.dirname, '../truth');
const media = (name: string): string => path.resolve(import.meta.dirname, '../media', name);

const work = mkdtempSync(path.join(tmpdir(), 'wairetic-demo-'));
const makers: Record<string, () => Promise<void>> = {
  disc: () => makeDisc(plates, work, media('Regatta disc, title 1.mkv'), truths),
  tape: () => makeTape(plates, media('Cottage lane, tape 3.mpg'), truths),
  film: () => makeFilm(plates, media('Harbour cine film.mov'), truths),
  print: () => makePrint(plates, media('Two on the quay.jpg')),
  portrait: () => makePortrait(plates, media('Portrait of a child.tif')),
  film16: () => makeFilm16(plates, media('Regatta 1961, 16 mm.vob'), truths),
  camcorder: () => makeCamcorder(plates, media('Christmas Eve, camcorder.mpg'), truths),
  sharptape: () => makeSharpTape(plates, media('Cottage lane, tape 1.mpg'), truths),
  drawn: () => makeDrawn(media('The skipper, drawn film.vob'), truths),
  small: async () => {
    await makeWebClip(plates, media('Harbour, web clip.mp4'), truths);
    makeCutOff(media('Cottage lane, tape 3.mpg'), media('Cottage lane, cut off.mpg'));
    makeLateSound(media('Regatta disc, title 1.mkv'), media('Regatta disc, late sound.mkv'));
  },
  // Only when asked for by name: it is not kept.
  large: () => makeLarge(plates, media('Large scan.tif')),
  prints: () => makePrints(plates, media(''), truths),
};
try {
  for (const name of process.argv.length > 2 ? process.argv.slice(2) : Object.keys(makers).filter((n) => n !== 'large'))
    await makers[name]();
} finally {
  rmSync(work, { recursive: true });
}
