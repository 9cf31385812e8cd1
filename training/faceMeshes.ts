/**
 * Lays the program's own mesh over the faces of photographs: `faceMeshes.ts LIST OUT` reads the paths in LIST, a line each, and writes to OUT, as JSON,
 * for each face that is large and sure enough the path, the mesh (468 pairs, in pixels) and the frame it is laid straight by.
 */
import { readFile, writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { fullRangeDetector } from '../src/core/faces/detector';
import { frameOf, meshNetwork } from '../src/core/faces/mesh';
import type { Rgb } from '../src/core/vision/rgb';
import { viewOf } from '../src/core/vision/view';

/** Width of the box under which a face has nothing to teach, in pixels. */
const LEAST = 44;
const SURE = 0.8;

const [list, out] = process.argv.slice(2);
if (!list || !out) throw new Error('usage: faceMeshes.ts LIST OUT');
const detect = await fullRangeDetector(),
  mesh = await meshNetwork();
const faces = [];
for (const path of (await readFile(list, 'utf8')).split('\n').filter(Boolean)) {
  const { data, info } = await sharp(path)
    .flatten({ background: '#808080' })
    .toColourspace('srgb')
    .raw()
    .toBuffer({ resolveWithObject: true });
  const picture: Rgb = { data: new Uint8Array(data), width: info.width, height: info.height };
  for (const face of await detect(viewOf(picture))) {
    if (face.width < LEAST) continue;
    const found = await mesh(picture, face);
    if (found.score > SURE)
      faces.push({ path, mesh: Array.from(found.mesh, (v) => Math.round(10 * v) / 10), frame: frameOf(found.mesh, 1) });
  }
}
await writeFile(out, JSON.stringify(faces));
