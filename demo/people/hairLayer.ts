import sharp from 'sharp';
import { HairVolume } from './hairLight';
import type { Strand } from './hair';
import { skull, type Vector } from './head';
import type { Identity, Look } from './person';
import { before, cross, dot, put, unit, type Place } from './place';
import type { Solid } from './solid';

/** Where a picture is taken from and towards what, and how wide it sees, in degrees. */
export interface Camera {
  from: Vector;
  to: Vector;
  angle: number;
}

/** A lamp far off; colours are of linear light. */
export interface Lamp {
  at: Vector;
  colour: Vector;
}

/** A head of hair where it is in the scene. */
export interface Head {
  who: Identity;
  look: Look;
  place: Place;
  strands: Strand[];
}

/** What hides hair behind it. */
export interface Placed {
  solid: Solid;
  place: Place;
  /** The hair that throws its shadow on it. */
  head: Head;
}

/** The layer is drawn this many times as large, and reduced. */
const FINER = 3;
/** How much of what is behind it a strand hides where it is drawn. */
const COVERS = 0.75;
/** How far hair that lies on a surface may be behind it and be seen, in units of the head: it lies on the skull, on which the skin has its brows. */
const CLOSE = 0.045;
/** Light from all round, as a share of the lamps'. */
const AROUND = 0.3;
/** How much of a surface's light hair can take from it. */
const SHADOW = 0.62;
const WHITE: Vector = [0.33, 0.32, 0.3];

const coded = (v: number): number => 255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);

interface View {
  width: number;
  height: number;
  /** Pixel and distance of a point of the scene. */
  see: (p: Vector) => [x: number, y: number, far: number];
}

function viewOf({ from, to, angle }: Camera, width: number, height: number): View {
  const ahead = unit([to[0] - from[0], to[1] - from[1], to[2] - from[2]]);
  const right = unit(cross([0, 1, 0], ahead)),
    up = cross(ahead, right);
  const scale = width / (2 * Math.tan((angle * Math.PI) / 360));
  return {
    width,
    height,
    see: (p) => {
      const d: Vector = [p[0] - from[0], p[1] - from[1], p[2] - from[2]];
      const far = dot(d, ahead);
      return [width / 2 + (scale * dot(d, right)) / far, height / 2 - (scale * dot(d, up)) / far, far];
    },
  };
}

/** What is nearest at each pixel: how far it is, and which surface and point of it. */
interface Nearest {
  far: Float32Array;
  surface: Int16Array;
  point: Int32Array;
}

function nearest(view: View, surfaces: Placed[]): Nearest {
  const size = view.width * view.height;
  const out: Nearest = { far: new Float32Array(size).fill(Infinity), surface: new Int16Array(size).fill(-1), point: new Int32Array(size) };
  for (const [n, { solid, place }] of surfaces.entries()) {
    const seen = solid.points.map((p) => view.see(put(place, p)));
    for (const [a, b, c] of solid.faces) triangle(view, out, [seen[a], seen[b], seen[c]], n, a);
  }
  return out;
}

function triangle({ width, height }: View, out: Nearest, [a, b, c]: ReturnType<View['see']>[], surface: number, point: number): void {
  const x0 = Math.max(0, Math.floor(Math.min(a[0], b[0], c[0]))),
    x1 = Math.min(width - 1, Math.ceil(Math.max(a[0], b[0], c[0])));
  const y0 = Math.max(0, Math.floor(Math.min(a[1], b[1], c[1]))),
    y1 = Math.min(height - 1, Math.ceil(Math.max(a[1], b[1], c[1])));
  const area = (b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1]);
  if (area === 0) return;
  for (let y = y0; y <= y1; y++)
    for (let x = x0; x <= x1; x++) {
      const u = ((b[0] - x) * (c[1] - y) - (c[0] - x) * (b[1] - y)) / area,
        v = ((c[0] - x) * (a[1] - y) - (a[0] - x) * (c[1] - y)) / area,
        w = 1 - u - v;
      if (u < -1e-4 || v < -1e-4 || w < -1e-4) continue;
      const far = u * a[2] + v * b[2] + w * c[2],
        i = y * width + x;
      if (far < out.far[i]) {
        out.far[i] = far;
        out.surface[i] = surface;
        out.point[i] = point;
      }
    }
}

/** All that is drawn, a piece of a strand each. */
interface Pieces {
  count: number;
  /** Ends, in pixels, and how far. */
  ends: Float32Array;
  far: Float32Array;
  colour: Float32Array;
}

/**
 * Hair as a layer over a picture of the heads without it, with the shadows it throws on them: RGBA, coded as sRGB. Strands shine along themselves
 * (Kajiya & Kay, 1989, "Rendering Fur with Three Dimensional Textures"; the two highlights by Marschner et al., 2003), and shade one another.
 */
export async function hairLayer(
  camera: Camera,
  lamps: Lamp[],
  surfaces: Placed[],
  heads: Head[],
  width: number,
  height: number,
): Promise<Buffer> {
  const view = viewOf(camera, width * FINER, height * FINER);
  const near = nearest(view, surfaces);
  const lights = new Map(heads.map((head) => [head, lightOf(head, lamps)]));
  const canvas = new Float32Array(4 * view.width * view.height);
  shadows(canvas, near, surfaces, lights, lamps);
  draw(canvas, view, near, shaded(view, camera, heads, lights, lamps));
  return reduced(canvas, width, height);
}

/** How much light of each lamp, and from all round, arrives at a point of a head. */
interface Light {
  lamps: { to: Vector; lit: (p: Vector) => number }[];
  around: (p: Vector) => number;
}

const AROUND_FROM: Vector[] = [
  [0, 1, 0],
  [1, 0.4, 0],
  [-1, 0.4, 0],
  [0, 0.4, 1],
  [0.7, 0.2, 0.7],
  [-0.7, 0.2, 0.7],
];

function lightOf({ who, look, place, strands }: Head, lamps: Lamp[]): Light {
  const volume = new HairVolume(strands, (p) => Math.hypot(...p) < skull(who, look, unit(p)) - 0.06);
  return {
    lamps: lamps.map(({ at }) => {
      const to = before(place, unit([at[0] - place.at[0], at[1] - place.at[1], at[2] - place.at[2]]));
      return { to, lit: volume.lit(to) };
    }),
    around: volume.lit(...AROUND_FROM),
  };
}

/** Darkens what hair takes light from. */
function shadows(canvas: Float32Array, near: Nearest, surfaces: Placed[], lights: Map<Head, Light>, lamps: Lamp[]): void {
  const strength = lamps.map(({ colour }) => colour[1]);
  const total = strength.reduce((a, b) => a + b, 0);
  const taken = surfaces.map(({ solid, head, place }) => {
    const light = lights.get(head) as Light;
    return Float32Array.from(solid.points, (point, i) => {
      // A body's points are told in the head's own space.
      const world = put(place, point);
      const back = before(head.place, [world[0] - head.place.at[0], world[1] - head.place.at[1], world[2] - head.place.at[2]]);
      const size = Math.hypot(...head.place.rows[0]);
      const length = Math.hypot(world[0] - head.place.at[0], world[1] - head.place.at[1], world[2] - head.place.at[2]) / size;
      const normal = before(head.place, put({ ...place, at: [0, 0, 0] }, solid.normals[i]));
      const p: Vector = [0, 1, 2].map((n) => back[n] * length + 0.09 * normal[n]) as Vector;
      let sum = 0;
      for (const [n, { to, lit }] of light.lamps.entries()) sum += strength[n] * (dot(to, normal) > 0 ? 1 - lit(p) : 0);
      const lost = SHADOW * (0.75 * (sum / total) + 0.25 * (1 - light.around(p)));
      // The layer is laid on coded values.
      return 1 - (1 - lost) ** (1 / 2.2);
    });
  });
  for (let i = 0; i < near.far.length; i++) if (near.surface[i] >= 0) canvas[4 * i + 3] = taken[near.surface[i]][near.point[i]];
}

function shaded(view: View, camera: Camera, heads: Head[], lights: Map<Head, Light>, lamps: Lamp[]): Pieces {
  let most = 0;
  for (const { strands } of heads) for (const { points } of strands) most += points.length;
  const out: Pieces = { count: 0, ends: new Float32Array(4 * most), far: new Float32Array(most), colour: new Float32Array(3 * most) };
  for (const head of heads) {
    const light = lights.get(head) as Light;
    const eye = before(
      head.place,
      unit([camera.from[0] - head.place.at[0], camera.from[1] - head.place.at[1], camera.from[2] - head.place.at[2]]),
    );
    for (const strand of head.strands) {
      let last: [number, number, number] | undefined;
      for (const [k, p] of strand.points.entries()) {
        const seen = view.see(put(head.place, p));
        if (last) {
          const i = out.count++;
          out.ends.set([last[0], last[1], seen[0], seen[1]], 4 * i);
          out.far[i] = (last[2] + seen[2]) / 2;
          out.colour.set(shine(head, strand, k, light, lamps, eye), 3 * i);
        }
        last = seen;
      }
    }
  }
  return out;
}

/** Colour of the piece of a strand that ends at a point. */
function shine({ who }: Head, { points, shade, white }: Strand, k: number, light: Light, lamps: Lamp[], eye: Vector): Vector {
  const p = points[k],
    q = points[k - 1];
  const along = unit([p[0] - q[0], p[1] - q[1], p[2] - q[2]]);
  const out = unit([p[0], p[1] - 0.1, p[2] + 0.1]);
  const base = who.hair.map((c, i) => Math.max(0.004, shade * (c + white * (WHITE[i] - c)))) as Vector;
  const colour: Vector = [0, 0, 0];
  const shifted = (by: number): Vector => unit([along[0] + by * out[0], along[1] + by * out[1], along[2] + by * out[2]]);
  const first = shifted(-0.12),
    second = shifted(0.2);
  for (const [n, { to, lit }] of light.lamps.entries()) {
    const arrives = lit(p);
    const half = unit([to[0] + eye[0], to[1] + eye[1], to[2] + eye[2]]);
    const across = (t: Vector): number => Math.sqrt(Math.max(0, 1 - dot(t, half) ** 2));
    const diffuse = 0.62 * Math.sqrt(Math.max(0, 1 - dot(along, to) ** 2)) * Math.min(1, Math.max(0.12, 0.45 + 0.6 * dot(out, to)));
    const glint = 0.035 * across(first) ** 90,
      glow = 0.42 * across(second) ** 22;
    for (let c = 0; c < 3; c++) colour[c] += lamps[n].colour[c] * arrives * (base[c] * (diffuse + glow) + glint);
  }
  const around = AROUND * light.around(p) * lamps.reduce((sum, lamp) => sum + lamp.colour[1], 0);
  for (let c = 0; c < 3; c++) colour[c] += base[c] * around;
  return colour;
}

/** Draws all pieces, the farthest first. */
function draw(canvas: Float32Array, { width, height }: View, near: Nearest, { count, ends, far, colour }: Pieces): void {
  const order = Uint32Array.from({ length: count }, (_, i) => i);
  order.sort((a, b) => far[b] - far[a]);
  for (const i of order) {
    const x0 = ends[4 * i],
      y0 = ends[4 * i + 1],
      dx = ends[4 * i + 2] - x0,
      dy = ends[4 * i + 3] - y0;
    const steps = Math.max(1, Math.ceil(Math.max(Math.abs(dx), Math.abs(dy))));
    for (let s = 0; s < steps; s++) {
      const x = Math.round(x0 + (dx * s) / steps),
        y = Math.round(y0 + (dy * s) / steps);
      if (x < 0 || y < 0 || x >= width || y >= height) continue;
      const at = y * width + x;
      if (far[i] > near.far[at] + CLOSE) continue;
      for (let c = 0; c < 3; c++) canvas[4 * at + c] = canvas[4 * at + c] * (1 - COVERS) + COVERS * colour[3 * i + c];
      canvas[4 * at + 3] = canvas[4 * at + 3] * (1 - COVERS) + COVERS;
    }
  }
}

/** The layer at its own size, its colours no longer times their opacity. */
async function reduced(canvas: Float32Array, width: number, height: number): Promise<Buffer> {
  const out = new Uint8Array(4 * width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const sum = [0, 0, 0, 0];
      for (let j = 0; j < FINER; j++)
        for (let i = 0; i < FINER; i++) {
          const at = 4 * ((FINER * y + j) * FINER * width + FINER * x + i);
          for (let c = 0; c < 4; c++) sum[c] += canvas[at + c] / FINER ** 2;
        }
      const to = 4 * (y * width + x);
      for (let c = 0; c < 3; c++) out[to + c] = Math.min(255, Math.round(coded(sum[3] > 0 ? sum[c] / sum[3] : 0)));
      out[to + 3] = Math.round(255 * sum[3]);
    }
  return sharp(out, { raw: { width, height, channels: 4 } })
    .png()
    .toBuffer();
}
