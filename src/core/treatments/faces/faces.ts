import { faceAmounts, saidOf, standsFor } from '../../../shared/faceAmounts';
import { invertPlace, pointAt, type Projective } from '../../../shared/maps/place';
import { areaMask } from '../../faces/areas';
import type { Face, Faces } from '../../faces/find';
import { type Similarity, within } from '../../faces/frame';
import { guarded } from '../../faces/guard';
import { layBack, layStraight } from '../../faces/lay';
import { frameOf, landmarksOf, type Mesh } from '../../faces/mesh';
import { ovalMask } from '../../faces/oval';
import { faceCorrection, FRAME_SIDES } from '../../faces/restore';
import { remembered } from '../../networks/remembered';
import {
  copyPicture,
  coveringBoth,
  cutPicture,
  growRegion,
  regionsMeet,
  type Picture,
  type Region,
  type StreamInfo,
} from '../../picture/picture';
import { FacesSetting, NumberSetting } from '../setting';
import { finerDepth, NO_NEEDS, type Treatment } from '../treatment';

const OF_AN_AREA = { unit: '%', min: 0, max: 100, step: 5, whole: true } as const;

export class FacesSettings {
  @NumberSetting({
    label: 'Amount',
    unit: '%',
    min: 0,
    max: 100,
    step: 5,
    whole: true,
    help: 'How much of what the network reads into faces is taken. Each face is held back by itself where it would become somebody else.',
  })
  amount = 100;

  @NumberSetting({
    label: 'Noise',
    unit: 'σ',
    min: 0,
    max: 60,
    step: 0.1,
    help: 'How strong the noise of the source is. Reduced to the source again, a face stays within twice of it.',
  })
  noise = 2;

  @NumberSetting({
    label: 'Coding',
    min: 0,
    max: 100,
    step: 1,
    help: 'How coarsely the source was coded: the quantiser step that Compression reads. Coarse coding leaves less to hold to.',
  })
  coding = 0;

  @NumberSetting({
    label: 'Own grain',
    unit: '%',
    min: 0,
    max: 100,
    step: 5,
    whole: true,
    help: 'Share of the grain which the picture has here that a face keeps. Less, and faces stand out smooth from what is round them.',
  })
  grain = 100;

  @NumberSetting({ ...OF_AN_AREA, label: 'Eyes', help: 'How much of it eyes and brows get.' })
  eyes = 100;

  @NumberSetting({ ...OF_AN_AREA, label: 'Mouth', help: 'How much of it lips and what is round them get.' })
  mouth = 100;

  @NumberSetting({
    ...OF_AN_AREA,
    label: 'Skin',
    help: 'How much of it all else in the face gets. Finer areas are painted: Only in, below.',
  })
  skin = 100;

  @FacesSetting({
    label: 'Each face',
    help: 'How much each gets, of the amount above. Faces that were not found, or lie wrongly, are placed by their two eyes.',
  })
  each = '';
}

/** Codes of 255 that a face may always be off by, and deviations of its noise. */
const LEAST_BOUND = 1.5,
  WITHIN = 2;
/** Pixels of the source between the eyes under which nothing finer than its pixels is added. */
const EYES_APART = 16;
/** Pixels of the source from which a frame's side needs no help, and at which it gets none. */
const LARGE = { from: 130, to: 320 };
/** Pixels round a face's box that its samples are read from. */
const TAPS = 3;
/** Part of the frame over which a face fades out. */
const FADE = 0.09;

/** A face as a step works it. */
interface PlacedFace {
  face: Pick<Face, 'x' | 'y' | 'width' | 'height'>;
  /** From the frame's pixels to the input's. */
  at: Similarity;
  side: number;
  /** The mesh in parts of the frame; of one that was added by hand an oval. */
  outline: Mesh;
  /** Pixels of the frame for one of the source. */
  ratio: number;
  /** Pixels of the source between the eyes. */
  apart: number;
  /** How much of the correction is wanted, 0 to 1. */
  amount: number;
  /** Pixels of the input that it may change. */
  box: Region;
}

/** The faces of an input that get anything. */
function placedFaces(source: Faces, { amount, each }: FacesSettings, input: StreamInfo, place: Projective): PlacedFace[] {
  const said = faceAmounts(each);
  const added = said
    .filter(({ width }) => width !== undefined)
    .map(({ x, y, width = 0, turn, amount: own }) => {
      const height = (width * source.width) / source.height;
      return { face: { x: x - width / 2, y: y - height / 2, width, height, turn, mesh: undefined }, own };
    });
  // What is placed by hand stands for what was found there.
  const found = source.faces
    .filter(({ x, y, width, height }) => !said.some((by) => standsFor(by, { x: x + width / 2, y: y + height / 2 }, source)))
    .map((face) => ({ face, own: saidOf(said, face)?.amount ?? 100 }));
  return [...found, ...added].flatMap(({ face, own }) => {
    const placed = placedFace(face, input, place, source);
    const wanted = placed && (amount / 100) * (own / 100) * placed.amount;
    return placed && wanted ? [{ ...placed, amount: wanted }] : [];
  });
}

/** An oval where a mesh would be, for faces that have none: points round the middle of the frame, in parts of it. */
const OVAL = Float32Array.from({ length: 64 }, (_, i) => {
  const angle = (2 * Math.PI * (i >> 1)) / 32;
  return i % 2 ? 0.53 + 0.42 * Math.sin(angle) : 0.5 + 0.34 * Math.cos(angle);
});
/** Side of the frame against the width of a face's box, and how far its middle lies below the box's, in the same. */
const BOXED = { side: 1.45, below: 0.02 };

function placedFace(
  face: PlacedFace['face'] & { mesh?: number[]; turn?: number },
  input: StreamInfo,
  place: Projective,
  source: Faces,
): PlacedFace | undefined {
  const back = invertPlace(place);
  const inSource: Mesh = face.mesh
    ? Float32Array.from(face.mesh, (v, i) => v * (i % 2 ? source.height : source.width))
    : ovalOf(face, source);
  const here = inSource.slice();
  for (let n = 0; n < here.length; n += 2) {
    const p = pointAt(back, inSource[n], inSource[n + 1]);
    here[n] = p.x;
    here[n + 1] = p.y;
  }
  const unit = face.mesh ? frameOf(here, 1) : boxFrame(here);
  const sourceUnit = face.mesh ? frameOf(inSource, 1) : boxFrame(inSource);
  const wide = Math.hypot(unit.a, unit.b),
    sourceWide = Math.hypot(sourceUnit.a, sourceUnit.b);
  if (wide < FRAME_SIDES.least) return undefined;
  const side = Math.min(FRAME_SIDES.most, 8 * Math.round(wide / 8));
  const at = within(unit, { a: 1 / side, b: 0, x: 0, y: 0 });
  const large = Math.min(1, Math.max(0, (LARGE.to - sourceWide) / (LARGE.to - LARGE.from)));
  const outline = toFrame(here, unit);
  const [lx, ly, rx, ry] = face.mesh ? landmarksOf(inSource) : [0, 0, 0.31 * sourceWide, 0];
  const corners = [0, 1].flatMap((u) => [0, 1].map((v) => ({ x: unit.a * u - unit.b * v + unit.x, y: unit.b * u + unit.a * v + unit.y })));
  const left = Math.floor(Math.min(...corners.map((c) => c.x))),
    top = Math.floor(Math.min(...corners.map((c) => c.y)));
  const box = {
    ...{ x: left, y: top },
    width: Math.ceil(Math.max(...corners.map((c) => c.x))) - left,
    height: Math.ceil(Math.max(...corners.map((c) => c.y))) - top,
  };
  if (box.x >= input.width || box.y >= input.height || box.x + box.width <= 0 || box.y + box.height <= 0) return undefined;
  return { face, at, side, outline, ratio: side / sourceWide, apart: Math.hypot(rx - lx, ry - ly), amount: large, box };
}

/** The oval of a face without a mesh, in pixels of the source, turned as the face is. */
function ovalOf({ x, y, width, height, turn = 0 }: PlacedFace['face'] & { turn?: number }, source: Faces): Mesh {
  const side = BOXED.side * width * source.width;
  const [sin, cos] = [Math.sin((turn * Math.PI) / 180), Math.cos((turn * Math.PI) / 180)];
  return OVAL.map((_, i) => {
    const u = (OVAL[i - (i % 2)] - 0.5) * side,
      v = (OVAL[i - (i % 2) + 1] - 0.5 + BOXED.below) * side;
    return i % 2 ? (y + height / 2) * source.height + sin * u + cos * v : (x + width / 2) * source.width + cos * u - sin * v;
  });
}

/** The frame round an oval that stands for a mesh: its first point lies at the right of the middle, its 17th at the left. */
function boxFrame(oval: Mesh): Similarity {
  const a = (oval[0] - oval[32]) / 0.68,
    b = (oval[1] - oval[33]) / 0.68;
  const [x, y] = [(oval[0] + oval[32]) / 2, (oval[1] + oval[33]) / 2];
  return { a, b, x: x - 0.5 * a + 0.53 * b, y: y - 0.5 * b - 0.53 * a };
}

function toFrame(points: Mesh, { a, b, x, y }: Similarity): Mesh {
  const n = a * a + b * b;
  return points.map((_, i) => {
    const u = points[i - (i % 2)] - x,
      v = points[i - (i % 2) + 1] - y;
    return i % 2 ? (a * v - b * u) / n : (a * u + b * v) / n;
  });
}

/** What a face gets: its correction, where it lies in the frame, and how much of it the guard leaves. */
interface Worked {
  correction: Awaited<ReturnType<typeof faceCorrection>>;
  mask: Float32Array;
  left: number;
  /** How far the descriptor moved. */
  moved: number;
}
const rememberWorked = remembered<Worked>(3 * 4 * 160 * 160);

/** Where a face is corrected, and how much of it: the guard judges what is laid. */
function faceMask({ outline, side }: PlacedFace, { eyes, mouth, skin }: FacesSettings): Float32Array {
  const mask = ovalMask(outline, side, FADE);
  if (eyes === 100 && mouth === 100 && skin === 100) return mask;
  // One that was added by hand has no areas.
  const areas =
    outline.length > OVAL.length ? areaMask(outline, side, { eyes: eyes / 100, mouth: mouth / 100, skin: skin / 100 }) : undefined;
  return mask.map((v, i) => v * (areas ? areas[i] : skin / 100));
}

/** @param source holds the face's box, as far as the frame goes. */
function worked(source: Picture, placed: PlacedFace, settings: FacesSettings): Promise<Worked> {
  const { noise, coding, grain } = settings;
  const straight = layStraight(source, placed.at, placed.side);
  const bound = Math.max(LEAST_BOUND, WITHIN * noise) / 255;
  const work = { ratio: placed.ratio, bound, onlySupported: placed.apart < EYES_APART, grain: grain / 100, noise, coding };
  const mask = faceMask(placed, settings);
  return rememberWorked([...straight.planes, mask, JSON.stringify([placed.side, work, placed.amount])], async () => {
    const correction = await faceCorrection(straight, work);
    return { correction, mask, ...(await guarded(straight, correction, mask, placed.amount)) };
  });
}

export const faces: Treatment<FacesSettings> = {
  id: 'faces',
  version: 3,
  name: 'Faces',
  answers: 'small and spoilt faces',
  settings: FacesSettings,
  inPlace: true,
  order: [{ after: 'regrain', text: 'Faces would be read from grain that was put back. Move Regrain below.' }],
  readsOfSource: () => ['faces'],
  suits: ({ frames, fieldOrder }) => frames === 1 && fieldOrder === 'progressive',
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: () => ({ ...NO_NEEDS, grid: 2 }),
  reach: (region, settings, input, { analyses, place }) => {
    const met = reachedBy(region, settings, input, place, analyses.faces as Faces);
    return met.length ? met.reduce((all, { box }) => coveringBoth(all, growRegion(box, TAPS, 1, input)), region) : undefined;
  },
  networks: () => ['faces'],
  supported: (settings) => ({ ...settings, amount: 0 }),
  propose: ({ measurements: { faces: read, grainLuma, coding } }) =>
    read && { on: false, settings: { noise: Math.round(10 * grainLuma) / 10, coding: Math.round(coding) } },
  coarse: () => 'leave',
  summary: ({ amount, each }) => `${amount} %${each ? `, ${faceAmounts(each).length} set by hand` : ''}`,
  async found([source], settings, { asked, input, place, analyses }) {
    const all = placedFaces(analyses.faces as Faces, { ...settings, amount: 100 }, input, place);
    const met = all.filter(({ box }) => regionsMeet(box, asked));
    const works = await Promise.all(met.map((one) => worked(source, one, settings)));
    const mask = new Uint8Array(asked.width * asked.height);
    for (const { box } of met)
      for (let y = Math.max(box.y, asked.y); y < Math.min(box.y + box.height, asked.y + asked.height); y++)
        for (let x = Math.max(box.x, asked.x); x < Math.min(box.x + box.width, asked.x + asked.width); x++)
          mask[(y - asked.y) * asked.width + x - asked.x] = 1;
    const counts = [
      { name: 'Faces', count: met.length },
      { name: 'Too small for more than evidence', count: met.filter(({ apart }) => apart < EYES_APART).length },
      { name: 'Held back, to stay who they are', count: works.filter(({ left }, n) => left < met[n].amount).length },
    ];
    return { region: asked, mask, counts, share: mask.reduce((sum, v) => sum + v, 0) / mask.length };
  },
  async apply([source], settings, { input, output, region, place, analyses }) {
    const result = { ...copyPicture(source, region), info: output };
    if (settings.amount === 0) return result;
    for (const placed of reachedBy(region, settings, input, place, analyses.faces as Faces)) {
      const { correction, mask, left } = await worked(source, placed, settings);
      layBack(
        result,
        correction,
        mask.map((v) => v * left),
        placed.at,
      );
    }
    return cutPicture(result, region);
  },
};

const reachedBy = (region: Region, settings: FacesSettings, input: StreamInfo, place: Projective, found: Faces): PlacedFace[] =>
  placedFaces(found, settings, input, place).filter(({ box }) => regionsMeet(box, region));
