/** Describes faces that lie straight: `faceDescriptors.ts OUT PICTURE ...` writes to OUT, as JSON, what each network says of each picture. */
import { writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { describer } from '../src/core/faces/descriptors';

const [out, ...pictures] = process.argv.slice(2);
if (!out || !pictures.length) throw new Error('usage: faceDescriptors.ts OUT PICTURE ...');
const names = ['residual', 'separable'] as const;
const told: Record<string, number[][]> = {};
for (const name of names) {
  const network = await describer(name);
  told[name] = [];
  for (const path of pictures) {
    const { data, info } = await sharp(path).removeAlpha().raw().toBuffer({ resolveWithObject: true });
    const rgb = { data: new Uint8Array(data), width: info.width, height: info.height };
    told[name].push(Array.from(await network.at(rgb, { a: info.width, b: 0, x: 0, y: 0 })));
  }
}
await writeFile(out, JSON.stringify(told));
