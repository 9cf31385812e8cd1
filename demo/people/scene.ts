import { execFileSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { BODY, bodyPoints, clothesPicture } from './body';
import { strands } from './hair';
import { eyeDepth, planOf, skinPoint, skull, worn, type Vector } from './head';
import type { Identity, Look } from './person';
import { COVER, skinPicture } from './skin';

/** Points across and down the skin of a head at full detail. */
const ACROSS = 360,
  DOWN = 320;

/** How finely a head is made, 1 for a portrait that fills the picture; less hair and fewer points are enough for small ones. */
export type Detail = number;

const v3 = ([x, y, z]: number[]): string => `<${x.toFixed(4)},${y.toFixed(4)},${z.toFixed(4)}>`;
const rgb = (c: number[], gain = 1): string => `rgb ${v3(c.map((v) => v * gain))}`;

/** The skin as a mesh whose vertices lie closer in the face. */
function headMesh(who: Identity, look: Look, texture: string, detail: Detail): string {
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
  const uv = ([x, y]: Vector): [number, number] => [(x + COVER.x) / (2 * COVER.x), (y + COVER.y) / (2 * COVER.y)];
  return mesh(points, across + 1, down + 1, uv, texture);
}

/** Neck, shoulders and chest in their clothes. */
function bodyMesh(who: Identity, look: Look, texture: string): string {
  const { points, across, down } = bodyPoints(who, look);
  const uv = ([x, y]: Vector): [number, number] => [
    (x - BODY.left) / (BODY.right - BODY.left),
    (y - BODY.bottom) / (BODY.top - BODY.bottom),
  ];
  return mesh(points, across, down, uv, texture);
}

/** A grid of points as a smooth mesh; `place` says where in the texture's picture a point lies, 0 to 1. */
function mesh(points: Vector[], width: number, height: number, place: (p: Vector) => [number, number], texture: string): string {
  const normals: Vector[] = points.map(() => [0, 0, 0]);
  const faces: string[] = [];
  const face = (a: number, b: number, c: number): void => {
    const [p, q, r] = [points[a], points[b], points[c]];
    const u = q.map((v, i) => v - p[i]),
      w = r.map((v, i) => v - p[i]);
    const n: Vector = [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]];
    for (const k of [a, b, c]) for (let i = 0; i < 3; i++) normals[k][i] += n[i];
    faces.push(`<${a},${b},${c}>`);
  };
  for (let j = 0; j + 1 < height; j++) {
    for (let i = 0; i + 1 < width; i++) {
      const a = j * width + i;
      face(a, a + 1, a + width);
      face(a + 1, a + width + 1, a + width);
    }
  }
  const uv = points.map(
    (p) =>
      `<${place(p)
        .map((v) => v.toFixed(4))
        .join(',')}>`,
  );
  const safe = normals.map((n): Vector => (Math.hypot(...n) > 0 ? n : [0, 1, 0]));
  return `mesh2 { vertex_vectors { ${points.length}, ${points.map(v3).join(',')} }
normal_vectors { ${points.length}, ${safe.map((n) => v3(n.map((v) => v / Math.hypot(...n)))).join(',')} }
uv_vectors { ${uv.length}, ${uv.join(',')} }
face_indices { ${faces.length}, ${faces.join(',')} }
uv_mapping ${texture} }\n`;
}

const TONES = 6;

function hairMesh(who: Identity, look: Look, detail: Detail): string {
  const ribbons = strands(who, look, detail);
  const points: Vector[] = [],
    normals: Vector[] = [],
    faces: string[] = [];
  for (const { points: line, tone } of ribbons) {
    const texture = Math.min(TONES - 1, Math.floor(tone * TONES));
    for (let k = 0; k < line.length; k++) {
      const before = line[Math.max(0, k - 1)],
        after = line[Math.min(line.length - 1, k + 1)];
      const t = after.map((v, i) => v - before[i]),
        n = Math.hypot(...line[k]);
      const out = line[k].map((v) => v / n);
      const side = [t[1] * out[2] - t[2] * out[1], t[2] * out[0] - t[0] * out[2], t[0] * out[1] - t[1] * out[0]];
      const size = Math.hypot(...side) || 1,
        half = (0.0055 / Math.sqrt(detail)) * (1 - (0.7 * k) / line.length);
      for (const s of [-1, 1]) {
        points.push(line[k].map((v, i) => v + (s * half * side[i]) / size) as Vector);
        // Bent across the ribbon, so that it takes the light like a round thing.
        const bent = out.map((v, i) => v + (0.7 * s * side[i]) / size);
        normals.push(bent.map((v) => v / Math.hypot(...bent)) as Vector);
      }
      if (k > 0) {
        const a = points.length - 4;
        faces.push(`<${a},${a + 1},${a + 2}>,${texture}`, `<${a + 1},${a + 3},${a + 2}>,${texture}`);
      }
    }
  }
  const grey = worn(look.age);
  const tones = Array.from({ length: TONES }, (_, i) => {
    const light = 0.55 + (0.9 * i) / TONES;
    const white = Math.max(0, (i / (TONES - 1) - 0.5) * 1.2) * grey;
    return `texture { pigment { ${rgb(who.hair.map((v) => v * light * (1 - white) + 0.42 * white))} } finish { diffuse .75 specular .18 roughness .06 } }`;
  });
  return `mesh2 { vertex_vectors { ${points.length}, ${points.map(v3).join(',')} }
normal_vectors { ${normals.length}, ${normals.map(v3).join(',')} }
texture_list { ${TONES}, ${tones.join(' ')} }
face_indices { ${faces.length}, ${faces.join(',')} } }\n`;
}

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

function ears(who: Identity, look: Look): string {
  const x = skull(who, look, [1, 0, 0]) - 0.02;
  return [1, -1]
    .map(
      (side) => `difference {
  sphere { 0, 1 scale <.075,.25,.15> }
  sphere { <.055,.02,.03>, 1 scale <.07,.17,.09> }
  rotate <-8,${28 + 8 * who.ears},0> scale <${side},1,1> translate <${side * (x + 0.03)},-.1,-.08>
  texture { Flesh } }\n`,
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

/** A head with hair, eyes and neck as POV-Ray objects, turned as the look says; `folder` takes the skin's picture. */
export async function personScene(who: Identity, look: Look, folder: string, name: string, detail: Detail = 1): Promise<string> {
  mkdirSync(folder, { recursive: true });
  writeFileSync(path.join(folder, `${name}.png`), await skinPicture(who, look));
  writeFileSync(path.join(folder, `${name}-wear.png`), await clothesPicture(who, look));
  const skin = `texture { pigment { image_map { png "${name}.png" gamma srgb interpolate 2 } } normal { granite .035 scale .035 } finish { diffuse .82 specular .1 roughness .055 } }`;
  const body =
    look.hair === 'bun'
      ? `sphere { 0, .3 scale <1.1,.8,1> translate <0,.62,-.98> texture { pigment { ${rgb(who.hair)} } normal { wrinkles .6 scale .06 } finish { specular .2 roughness .05 } } }`
      : '';
  return `#declare Flesh = texture { pigment { ${rgb(who.skin, 0.95)} } normal { granite .03 scale .05 } finish { diffuse .82 specular .08 roughness .06 } }
union {
${headMesh(who, look, skin, detail)}${eyes(who, look)}${ears(who, look)}${hairMesh(who, look, detail)}${glasses(who, look)}${body}
  rotate <${-look.nod},0,0> rotate z*${look.tilt} rotate y*${look.turn} }
${bodyMesh(who, look, `texture { pigment { image_map { png "${name}-wear.png" gamma srgb interpolate 2 } } normal { granite .06 scale .06 } finish { diffuse .8 } }`)}`;
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
      '+A0.12',
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
