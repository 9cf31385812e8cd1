/**
 * Renders the pictures with people into demo/plates/modelled/, where `features.py` gives them their faces: `npx tsx demo/people/pictures.ts [NAME ...] [--width W]`. Needs POV-Ray. The
 * people are bald there: their hair is a layer of its own beside each (NAME-hair.png), which is laid on after the faces. `--outlines` renders where
 * the people are instead, white on black, into demo/truth/people/.
 */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { parseArgs } from 'node:util';
import sharp from 'sharp';
import { CAST, type Name } from './cast';
import { strands } from './hair';
import { hairLayer, type Camera, type Head, type Placed } from './hairLayer';
import { moved, placed, turned } from './place';
import { headPlace, personScene, personSolids, render } from './scene';
import { SCENES, type Scene } from './scenes';
import { ALBUM, SHEET } from './sheet';
import { v3 } from './solid';

const PLATES = path.resolve(import.meta.dirname, '../plates');
/** Strands of a head that fills the picture. */
const STRANDS = 60_000;

const povCamera = ({ from, to, angle }: Camera): string =>
  `camera { location ${v3(from)} right x*image_width/image_height up y look_at ${v3(to)} angle ${angle} }`;

/** A picture in files: the people without hair, and their hair. */
interface Rendered {
  bald: string;
  hair: string;
}

/** The people of a scene as POV-Ray objects, and what their hair needs. */
async function people(scene: Scene, folder: string): Promise<{ bodies: string[]; surfaces: Placed[]; heads: Head[] }> {
  const bodies: string[] = [],
    surfaces: Placed[] = [],
    heads: Head[] = [];
  for (const [n, { who, look: told, at, size = 1, body = 0 }] of scene.people.entries()) {
    // The body turns with the head's neck; the head's own turn is on top.
    const look = { ...told, turn: told.turn - body };
    const solids = await personSolids(who, look, scene.detail);
    const place = placed(moved([0, 0, 0], size), turned('y', body), moved(at));
    const head = { who, look, place: placed(headPlace(look), place), strands: strands(who, look, STRANDS * scene.detail) };
    heads.push(head);
    for (const solid of [solids.head, ...solids.ears]) surfaces.push({ solid, place: head.place, head });
    surfaces.push({ solid: solids.body, place, head });
    bodies.push(
      `union { ${await personScene(who, look, solids, scene.detail, { folder, name: `p${n}` })} scale ${size} rotate y*${body} translate ${v3(at)} }`,
    );
  }
  return { bodies, surfaces, heads };
}

const sceneFile = (folder: string, parts: string[]): string => {
  const file = path.join(folder, 'scene.pov');
  writeFileSync(file, ['#version 3.7;', 'global_settings { assumed_gamma 1 }', ...parts, ''].join('\n'));
  return file;
};

/** Renders one scene; `width` asks for a smaller look. */
async function picture(name: string, to: Rendered, width?: number): Promise<void> {
  const scene = SCENES[name];
  const folder = mkdtempSync(path.join(tmpdir(), 'wairetic-people-'));
  const wide = width ?? scene.width;
  const height = Math.round((wide * scene.height) / scene.width);
  const { bodies, surfaces, heads } = await people(scene, folder);
  // What stands far behind them is out of focus.
  if (scene.set.includes('harbour.png')) await sharp(path.join(PLATES, 'harbour.png')).blur(7).toFile(path.join(folder, 'harbour.png'));
  const lights = scene.lamps.map(({ at, colour, more }) => `light_source { ${v3(at)} rgb ${v3(colour)} ${more} }`);
  render(sceneFile(folder, [povCamera(scene.camera), ...lights, scene.set, ...bodies]), to.bald, wide, height);
  await sharp(await hairLayer(scene.camera, scene.lamps, surfaces, heads, wide, height)).toFile(to.hair);
  rmSync(folder, { recursive: true });
}

/** Renders where the people of a scene are. */
async function outlines(name: string, output: string, width?: number): Promise<void> {
  const scene = SCENES[name];
  const folder = mkdtempSync(path.join(tmpdir(), 'wairetic-people-'));
  const wide = width ?? scene.width;
  const height = Math.round((wide * scene.height) / scene.width);
  const { bodies, heads } = await people(scene, folder);
  const seen = path.join(folder, 'seen.png');
  // Plain colours: what counts is the opacity of what is in the picture.
  render(sceneFile(folder, [povCamera(scene.camera), ...bodies]), seen, wide, height, ['+UA', '+Q1']);
  await sharp(seen)
    .composite([{ input: await hairLayer(scene.camera, scene.lamps, [], heads, wide, height) }])
    .extractChannel(3)
    .png({ palette: true, colours: 16 })
    .toFile(output);
  rmSync(folder, { recursive: true });
}

/** Portraits side by side, a row each. @param cells names of scenes. */
async function sheet(cells: string[][], { width, height }: { width: number; height: number }, to: Rendered): Promise<void> {
  const work = mkdtempSync(path.join(tmpdir(), 'wairetic-faces-'));
  const places = cells.flatMap((scenes, row) => scenes.map((scene, column) => ({ scene, left: column * width, top: row * height })));
  const own = (scene: string): Rendered => filesOf(work, scene);
  for (const { scene } of places) await picture(scene, own(scene));
  for (const kind of ['bald', 'hair'] as const) {
    const channels = kind === 'bald' ? 3 : 4;
    await sharp({
      create: { width: width * cells[0].length, height: height * cells.length, channels, background: { r: 0, g: 0, b: 0, alpha: 0 } },
    })
      .composite(places.map(({ scene, left, top }) => ({ input: own(scene)[kind], left, top })))
      .png()
      .toFile(to[kind]);
  }
  rmSync(work, { recursive: true });
}

const filesOf = (folder: string, name: string): Rendered => ({
  bald: path.join(folder, `${name}.png`),
  hair: path.join(folder, `${name}-hair.png`),
});

const SHEETS: Record<string, { cells: string[][]; size: { width: number; height: number } }> = {
  faces: { cells: SHEET.turns.map((_, k) => (Object.keys(CAST) as Name[]).map((name) => `face-${name}-${k}`)), size: SHEET },
  ...Object.fromEntries(
    ALBUM.leaves.map(({ year, people }) => [`album-${year}`, { cells: [people.map((name) => `album-${year}-${name}`)], size: ALBUM }]),
  ),
};

const { values, positionals } = parseArgs({
  options: { width: { type: 'string' }, to: { type: 'string' }, outlines: { type: 'boolean', default: false } },
  allowPositionals: true,
});
const folder = values.to ?? (values.outlines ? path.resolve(PLATES, '../truth/people') : path.join(PLATES, 'modelled'));
const width = values.width ? Number(values.width) : undefined;
const scenes = Object.keys(SCENES).filter((n) => !/^(face|album)-/.test(n));
for (const name of positionals.length ? positionals : values.outlines ? scenes : [...scenes, ...Object.keys(SHEETS)]) {
  if (values.outlines) await outlines(name, path.join(folder, `${name}.png`), width);
  else if (name in SHEETS) await sheet(SHEETS[name].cells, SHEETS[name].size, filesOf(folder, name));
  else await picture(name, filesOf(folder, name), width);
}
