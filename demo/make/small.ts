/** A clip from the early web, and two files to repair: one cut off in the middle, one whose sound is late. */
import { readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { encodeFrames, ffmpeg } from './encode';
import { addGrain } from './faults';
import { loadPlate, look, place, type Raster } from './raster';
import { Truth } from './truth';

const SECONDS = 6,
  RATE = 15;

export async function makeWebClip(plates: string, output: string, truths: string): Promise<void> {
  const truth = new Truth();
  const harbour = await loadPlate(path.join(plates, 'harbour.png')),
    boat = await loadPlate(path.join(plates, 'boat.png'), 0.6);
  function* frames(): Generator<Raster> {
    for (let n = 0; n < SECONDS * RATE; n++) {
      const t = n / RATE;
      const picture = look(
        harbour,
        { x: 900 + 70 * t, y: 420 + 6 * Math.sin(t * 3), height: 620, turn: 0.01 * Math.sin(t * 2) },
        320,
        240,
        4 / 3,
      );
      place(picture, boat, 60 + 34 * t, 226 + 3 * Math.sin(t * 2.4), 150);
      truth.take(picture);
      addGrain(picture, 24_000 + n, 5, 4, 0.6);
      yield picture;
    }
  }
  const sound = ['-f', 'lavfi', '-i', `anoisesrc=color=pink:amplitude=0.1:duration=${SECONDS}:seed=15`];
  await encodeFrames(frames(), { width: 320, height: 240 }, String(RATE), sound, [
    ...['-c:v', 'libx264', '-preset', 'veryfast', '-b:v', '64k', '-pix_fmt', 'yuv420p', '-g', '90'],
    ...[
      '-vf',
      'scale=out_color_matrix=bt601:out_range=tv',
      '-colorspace',
      'smpte170m',
      '-color_primaries',
      'smpte170m',
      '-color_trc',
      'smpte170m',
    ],
    ...['-c:a', 'aac', '-ac', '1', '-ar', '22050', '-b:a', '24k', '-shortest', output],
  ]);
  await truth.write(truths, output, String(RATE), '1');
}

/** Another file's first part, as a copy that was broken off leaves it. */
export function makeCutOff(from: string, output: string): void {
  writeFileSync(output, readFileSync(from).subarray(0, Math.round(statSync(from).size * 0.55)));
}

/** Another file with its first sound track 400 ms late. */
export function makeLateSound(from: string, output: string): void {
  ffmpeg('-i', from, '-itsoffset', '0.4', '-i', from, '-map', '0:v:0', '-map', '1:a:0', '-c', 'copy', '-t', '4', output);
}
