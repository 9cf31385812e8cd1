import { execFileSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { BODY, bodyPoints } from './body';
import { clothesHeight, clothesPicture } from './clothes';
import { ear } from './ear';
import { eyeDepth, planOf, skinPoint, type Vector } from './head';
import type { Identity, Look } from './person';
import { placed, turned, type Place } from './place';
import { COVER, skinPicture } from './skin';
import { gridSolid, povMesh, v3, type Solid } from './solid';

/** Points across and down the skin of a head at full detail. */
const ACROSS = 360,
  DOWN = 320;

/** How finely a head is made, 1 for a portrait that fills the picture; less hair and fewer points are enough for small ones. */
export type Detail = number;

const rgb = (c: number[], gain = 1): string => `rgb ${v3(c.map((v) => v * gain))}`;

/** The skin of the head; its points lie closer in the face. */
function headSolid(who: Identity, look: Look, detail: Detail): Solid {
  const p = planOf(who, look),
    eyeZ = eyeDepth(who, look);
  const across = Math.round(ACROSS * Math.sqrt(detail)),
    down = Math.round(DOWN * Math.sqrt(detail));
  const points: Vector[] = [];
  for (let j = 0; j <= down; j++) {
    const t = (2 * j) / down - 1;
    const lat = (Math.PI / 2) * (0.55 * t + 0.45 * t ** 3) - 0.12 * (1 - t * t);
    for (let i = 0; i <= across; i++) {
      const s = (2 * i) / across - 1;
      const lon = Math.PI * (0.35 * s + 0.65 * s ** 3);
      points.push(skinPoint(who, look, p, eyeZ, [Math.cos(lat) * Math.sin(lon), Math.sin(lat), Math.cos(lat) * Math.cos(lon)]));
    }
  }
  return gridSolid(points, across + 1, down + 1);
}

/** Where a point of the head lies in the skin's picture, and one of the body in the clothes'. */
const onSkin = ([x, y]: Vector): [number, number] => [(x + COVER.x) / (2 * COVER.x), (y + COVER.y) / (2 * COVER.y)];
const onBody = ([x, y]: Vector): [number, number] => [
  (x - BODY.left) / (BODY.right - BODY.left),
  (y - BODY.bottom) / (BODY.top - BODY.bottom),
];

function eyes(who: Identity, look: Look): string {
  const p = planOf(who, look),
    z = eyeDepth(who, look);
  return [1, -1]
    .map(
      (side) => `sphere { 0, ${p.eyeRadius}
  pigment { cylindrical color_map { [0 rgb <.5,.42,.39>] [.5 rgb <.74,.69,.65>] [.572 rgb <.66,.61,.57>] [.585 ${rgb(who.iris, 0.35)}] [.66 ${rgb(who.iris, 1.5)}] [.79 ${rgb(who.iris)}] [.815 rgb .006] [1 rgb .004] } rotate x*90 scale ${p.eyeRadius} }
  finish { diffuse .8 specular .9 roughness .0015 reflection .03 } rotate <${-look.gaze * 0.1},${look.gaze},0> translate <${side * p.eyeX},${p.eyeY},${z}> }\n`,
    )
    .join('');
}

function glasses(who: Identity, look: Look): string {
  if (!look.glasses) return '';
  const p = planOf(who, look),
    z = eyeDepth(who, look) + p.eyeRadius + 0.13;
  return `union {
  ${[1, -1].map((s) => `torus { .185, .012 rotate x*90 scale <1,.88,1> translate <${s * (p.eyeX + 0.01)},${p.eyeY - 0.02},${z}> } cylinder { <${s * (p.eyeX + 0.19)},${p.eyeY + 0.02},${z}>, <${s * 0.8},${p.eyeY + 0.04},-.05>, .012 }`).join('\n  ')}
  cylinder { <-.13,${p.eyeY + 0.02},${z + 0.01}>, <.13,${p.eyeY + 0.02},${z + 0.01}>, .012 }
  texture { pigment { rgb <.05,.03,.02> } finish { diffuse .5 specular .6 roughness .01 } } }\n`;
}

/** What a person's surfaces are: the head with its ears, which turn with it, and the body. */
export interface Person {
  head: Solid;
  ears: Solid[];
  body: Solid;
}

export async function personSolids(who: Identity, look: Look, detail: Detail): Promise<Person> {
  const { points, across, down } = bodyPoints(who, look, await clothesHeight(who, look), detail);
  return { head: headSolid(who, look, detail), ears: [ear(who, look, 1), ear(who, look, -1)], body: gridSolid(points, across, down) };
}

/** How a head is turned on its neck. */
export const headPlace = ({ nod, tilt, turn }: Look): Place => placed(turned('x', -nod), turned('z', tilt), turned('y', turn));

/** A person without hair as POV-Ray objects, the head turned as the look says; `to` takes the pictures of skin and clothes. */
export async function personScene(
  who: Identity,
  look: Look,
  solids: Person,
  detail: Detail,
  to: { folder: string; name: string },
): Promise<string> {
  const { folder, name } = to;
  const size = detail > 0.6 ? 1 : 0.5;
  mkdirSync(folder, { recursive: true });
  writeFileSync(path.join(folder, `${name}.png`), await skinPicture(who, look, size));
  writeFileSync(path.join(folder, `${name}-wear.png`), await clothesPicture(who, look, size));
  const skin = `texture { pigment { image_map { png "${name}.png" gamma srgb interpolate 2 } } normal { granite .035 scale .035 } finish { diffuse .82 specular .1 roughness .055 } }`;
  const wear = `texture { pigment { image_map { png "${name}-wear.png" gamma srgb interpolate 2 } } finish { diffuse .8 } }`;
  const flesh = `texture { pigment { ${rgb(who.skin.map((v, i) => v * [0.95, 0.86, 0.84][i]))} } normal { granite .03 scale .05 } finish { diffuse .82 specular .1 roughness .05 } }`;
  return `union {
${povMesh(solids.head, onSkin, skin)}${eyes(who, look)}${solids.ears.map((e) => povMesh(e, onSkin, flesh)).join('')}${glasses(who, look)}
  rotate <${-look.nod},0,0> rotate z*${look.tilt} rotate y*${look.turn} }
${povMesh(solids.body, onBody, wear)}`;
}

/** Renders a scene file with POV-Ray. */
export function render(file: string, output: string, width: number, height: number, more: string[] = []): void {
  execFileSync(
    'povray',
    [
      `+I${file}`,
      `+O${output}`,
      `+W${width}`,
      `+H${height}`,
      '+A0.2',
      '+AM2',
      '+R2',
      '-D',
      '-GA',
      '+WT1',
      `+L${path.dirname(file)}`,
      ...more,
    ],
    { stdio: ['ignore', 'ignore', 'pipe'] },
  );
}
