/** Prints, as JSON, the faces of a picture: the mesh (468 pairs, in pixels) and the frame it is laid straight by. For `features.py`. */
import { findFaces, frameOf, wholeRegion } from '../../src/core';
import { openSource, probePart } from '../../src/media';

const [file] = process.argv.slice(2);
if (!file) throw new Error('usage: meshes.ts PICTURE');
const probed = await probePart(file, undefined);
const source = await openSource(file, file, probed);
const { faces, width, height } = await findFaces(await source.frame(0, wholeRegion(source.info)));
source.close?.();
const meshed = faces.flatMap(({ mesh }) => (mesh ? [Float32Array.from(mesh, (v, i) => v * (i % 2 ? height : width))] : []));
process.stdout.write(
  JSON.stringify(meshed.map((mesh) => ({ mesh: Array.from(mesh, (v) => Math.round(10 * v) / 10), frame: frameOf(mesh, 1) }))),
);
