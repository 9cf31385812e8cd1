import { faceAmounts } from '../../../shared/faceAmounts';
import { faceReferences, usedReferences } from '../../../shared/faceReferences';
import { areaMask } from '../../faces/areas';
import type { FilmFaces } from '../../faces/film';
import type { Faces } from '../../faces/find';
import { gathered } from '../../faces/gathered';
import { guarded } from '../../faces/guard';
import { layBack, layStraight } from '../../faces/lay';
import { ovalMask } from '../../faces/oval';
import { knownFace, type ReferenceFace, referenceFor } from '../../faces/references/reference';
import { faceCorrection, type FramedFace, towardsEvidence } from '../../faces/restore';
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
import { finerDepth, NO_NEEDS, type PartWork, type Treatment } from '../treatment';
import { type InSource, OVAL, placedAlong, placedBeside, type PlacedFace, placedFaces } from './placed';
import { FacesSettings } from './settings';

/** Codes of 255 that a face may always be off by, and deviations of its noise. */
const LEAST_BOUND = 1.5,
  WITHIN = 2;
/** Pixels of the source between the eyes under which nothing finer than its pixels is added. */
const EYES_APART = 16;
/** Pixels round a face's box that its samples are read from. */
const TAPS = 3;
/** Part of the frame over which a face fades out; along a film its surroundings are known better. */
const FADE = 0.09,
  FADE_ALONG = 0.05;
/** The analysis of a film that this reads. */
const FILM_FACES = 'film-faces';

/** What a face gets: what is laid, where it lies in the frame, and how much of the network's correction the guard leaves. */
interface Worked {
  laid: FramedFace;
  mask: Float32Array;
  left: number;
  /** Names of pictures that do not agree with what is seen here, and were not used. */
  refused: string[];
}
const rememberWorked = remembered<Worked>(3 * 4 * 160 * 160);

/** Where a face is corrected, and how much of it: the guard judges what is laid. */
function faceMask({ outline, side, track }: PlacedFace, { eyes, mouth, skin }: FacesSettings): Float32Array {
  const mask = ovalMask(outline, side, track === undefined ? FADE : FADE_ALONG);
  if (eyes === 100 && mouth === 100 && skin === 100) return mask;
  // One that was added by hand has no areas.
  const areas =
    outline.length > OVAL.length ? areaMask(outline, side, { eyes: eyes / 100, mouth: mouth / 100, skin: skin / 100 }) : undefined;
  return mask.map((v, i) => v * (areas ? areas[i] : skin / 100));
}

/** What a step knows of the faces of its input. */
type Of = InSource & Pick<PartWork, 'seen' | 'pictures'> & { film?: FilmFaces; settings: FacesSettings };

/** @param window the input's pictures, which hold the face's box, as far as the frame goes; of a film those round the one that is worked. */
function worked(window: readonly Picture[], placed: PlacedFace, { film, seen, pictures, settings, ...where }: Of): Promise<Worked> {
  const { noise, coding, grain } = settings;
  const source = window[film ? settings.around : 0];
  const straight = layStraight(source, placed.at, placed.side);
  const beside = window.flatMap((picture, n) => {
    // At a film's ends frames repeat, and have nothing new to say.
    const there = film && picture !== source ? placedBeside(placed, film, seen[n], where) : undefined;
    return there ? [{ picture, at: there.at }] : [];
  });
  const { face: evidence, left } = beside.length ? gathered(straight, beside, noise) : { face: straight, left: 1 };
  const bound = Math.max(LEAST_BOUND, WITHIN * noise) / 255;
  const apart = { onlySupported: placed.apart < EYES_APART, grain: grain / 100, noise: left * noise, coding: left * coding };
  const work = { ratio: placed.ratio, bound, ...apart };
  const mask = faceMask(placed, settings);
  const { side, outline, ratio, amount, references } = placed;
  const told = JSON.stringify([side, work, amount, references]);
  return rememberWorked([...straight.planes, ...evidence.planes, mask, outline, told], async () => {
    const others = referenceFaces(references, pictures);
    // Those that do not agree with what is seen here are somebody else.
    const laidOn = others.map((other) => ({ other, ...referenceFor(evidence.planes[0], side, outline, ratio, other) }));
    const agreeing = laidOn.filter(({ agrees }) => agrees > 0);
    const correction = await faceCorrection(
      evidence,
      work,
      agreeing.map(({ luma }) => luma),
    );
    const guarding = { wanted: amount, finely: film !== undefined, others: agreeing.map(({ other }) => knownFace(other)) };
    const { left: kept } = await guarded(evidence, correction, mask, guarding);
    const laid = times(correction, kept);
    // What other frames say is the face's own, and needs no guard.
    return {
      mask,
      left: kept,
      refused: laidOn.filter(({ agrees }) => agrees === 0).map(({ other }) => other.name),
      laid: beside.length ? sum(laid, times(towardsEvidence(straight, evidence, work), amount)) : laid,
    };
  });
}

/** Pictures that faces are restored by, as far as a mesh lies over them. */
const referenceFaces = (names: readonly string[], pictures: PartWork['pictures']): (ReferenceFace & { name: string })[] =>
  names.flatMap((name) => {
    const picture = pictures[name];
    return picture?.mesh ? [{ name, picture, mesh: picture.mesh }] : [];
  });

const times = ({ side, planes }: FramedFace, share: number): FramedFace => ({
  side,
  planes: planes.map((plane) => plane.map((v) => v * share)) as FramedFace['planes'],
});
const sum = ({ side, planes }: FramedFace, other: FramedFace): FramedFace => ({
  side,
  planes: planes.map((plane, index) => plane.map((v, i) => v + other.planes[index][i])) as FramedFace['planes'],
});

export const faces: Treatment<FacesSettings> = {
  id: 'faces',
  version: 6,
  name: 'Faces',
  answers: 'small and spoilt faces',
  settings: FacesSettings,
  inPlace: true,
  order: [{ after: 'regrain', text: 'Faces would be read from grain that was put back. Move Regrain below.' }],
  readsOfSource: (_settings, { frames }) => [frames > 1 ? FILM_FACES : 'faces'],
  suits: ({ fieldOrder }) => fieldOrder === 'progressive',
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: ({ around }, { frames }) => ({ ...NO_NEEDS, grid: 2, ...(frames > 1 && { before: around, after: around }) }),
  reach: (region, settings, input, work) => {
    const of = ofWork(settings, input, work);
    const boxes = placedIn(region, of, work).flatMap((placed) => [
      placed.box,
      ...of.seen.flatMap((frame) => (of.film && placedBeside(placed, of.film, frame, of)?.box) ?? []),
    ]);
    return boxes.length ? boxes.reduce((all, box) => coveringBoth(all, growRegion(box, TAPS, 1, input)), region) : undefined;
  },
  alone: (region, settings, input, work) => placedIn(region, ofWork(settings, input, work), work).length === 0,
  networks: ({ references }) => (references ? ['faces', 'reference'] : ['faces']),
  pictures: ({ references }) => [...new Set(faceReferences(references).flatMap(({ pictures }) => usedReferences(pictures)))],
  supported: (settings) => ({ ...settings, amount: 0 }),
  borrowed: (settings) => ({ ...settings, references: '' }),
  propose: ({ measurements: { faces: read, grainLuma, coding } }) =>
    read && { on: false, settings: { noise: Math.round(10 * grainLuma) / 10, coding: Math.round(coding) } },
  draft: (s) => ({ ...s, around: 0, references: '' }),
  coarse: () => 'leave',
  summary: ({ amount, each, references }) => {
    const guided = faceReferences(references).filter(({ pictures }) => usedReferences(pictures).length > 0).length;
    return `${amount} %${each ? `, ${faceAmounts(each).length} set by hand` : ''}${guided ? `, ${guided} by other pictures` : ''}`;
  },
  async found(window, settings, context) {
    const { asked, input } = context;
    const of = ofWork({ ...settings, amount: 100 }, input, context);
    const met = placedIn(asked, of, context);
    // A face counts in the part that its middle lies in.
    const counted = met.filter(({ box }) => holds(asked, box.x + box.width / 2, box.y + box.height / 2));
    const works = await Promise.all(counted.map((one) => worked(window, one, of)));
    const mask = new Uint8Array(asked.width * asked.height);
    for (const { box } of met)
      for (let y = Math.max(box.y, asked.y); y < Math.min(box.y + box.height, asked.y + asked.height); y++)
        for (let x = Math.max(box.x, asked.x); x < Math.min(box.x + box.width, asked.x + asked.width); x++)
          mask[(y - asked.y) * asked.width + x - asked.x] = 1;
    const counts = [
      { name: 'Faces', count: counted.length },
      { name: 'Too small for more than evidence', count: counted.filter(({ apart }) => apart < EYES_APART).length },
      { name: 'Restored by other pictures', count: works.filter(({ refused }, n) => counted[n].references.length > refused.length).length },
      { name: 'Other pictures that do not agree', count: works.reduce((sum, { refused }) => sum + refused.length, 0) },
      { name: 'Held back, to stay who they are', count: works.filter(({ left }, n) => left < counted[n].amount).length },
    ];
    const unused = works.flatMap(({ refused }) => refused);
    return { region: asked, mask, counts, share: mask.reduce((sum, v) => sum + v, 0) / mask.length, unused };
  },
  async apply(window, settings, context) {
    const { output, region, input } = context;
    const of = ofWork(settings, input, context);
    const result = { ...copyPicture(window[of.film ? settings.around : 0], region), info: output };
    if (settings.amount === 0) return result;
    for (const placed of placedIn(region, of, context)) {
      const { laid, mask } = await worked(window, placed, of);
      layBack(result, laid, mask, placed.at);
    }
    return cutPicture(result, region);
  },
};

const holds = ({ x, y, width, height }: Region, px: number, py: number): boolean => px >= x && px < x + width && py >= y && py < y + height;

const ofWork = (settings: FacesSettings, input: StreamInfo, { place, seen, analyses, pictures }: PartWork): Of => ({
  ...{ input, place, seen, pictures, settings },
  film: analyses[FILM_FACES] as FilmFaces | undefined,
});

/** The faces that a part of the input shows. */
function placedIn(region: Region, { film, seen, settings, ...where }: Of, { analyses }: Pick<PartWork, 'analyses'>): PlacedFace[] {
  const all = film ? placedAlong(film, seen[settings.around], settings, where) : placedFaces(analyses.faces as Faces, settings, where);
  return all.filter(({ box }) => regionsMeet(box, region));
}
