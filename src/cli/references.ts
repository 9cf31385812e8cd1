import { readPicture, keepReference } from '../archive';
import {
  centredFaces,
  describeFaces,
  type DescribedFace,
  type Faces,
  FacesSettings,
  findFaces,
  likeness,
  PlanError,
  wholeRegion,
} from '../core';
import { openSource, type Probed, probePart } from '../media';
import { largestFace, layFile } from '../render';
import { type FaceReferences, faceReferencesText } from '../shared/faceReferences';
import { mapSteps, type Plan } from '../shared/plan';

/** A still whose faces are restored by other pictures. */
export interface Referred {
  file: string;
  probed: Probed;
  /** Files with other pictures of people in it, each perhaps with @X,Y: a place on the face it is for, in pixels. */
  references: string[];
  /** Folder of what the plan lays in. */
  marks: string;
}

/**
 * A plan whose Faces restores people by other pictures of them: each file's largest face is given to the one here that looks most like it, or to the one
 * at the place that is told. Faces is switched on where it is off, and added where there is none.
 * @throws PlanError where a file cannot be told a face.
 */
export async function withReferences(plan: Plan, { file, probed, references, marks }: Referred): Promise<Plan> {
  if (probed.facts.kind !== 'still') throw new PlanError('--reference is for stills.');
  const here = await seenIn(file, probed);
  if (here.described.length === 0) throw new PlanError(`No face is found in ${file} that another picture could be laid on.`);
  const given = new Map<DescribedFace, string[]>();
  for (const reference of references) {
    const { name, x, y } = readReference(reference);
    const there = await seenIn(name, await probePart(name, undefined));
    const { picture } = await layFile({ file: name, profile: probed.facts.profile, folder: marks });
    const face = largestFace(there.faces, await readPicture(marks, picture));
    if (!face) throw new PlanError(`No face is found in ${name}.`);
    const own = x === undefined || y === undefined ? likest(here.described, there.described[0], reference) : at(here, x, y, reference);
    given.set(own, [...(given.get(own) ?? []), await keepReference(marks, face, { name })]);
  }
  const text = faceReferencesText([...given].map(([face, pictures]) => referencesOf(face, pictures)));
  return restoring(plan, text);
}

interface Seen {
  faces: Faces;
  described: DescribedFace[];
}

async function seenIn(file: string, probed: Probed): Promise<Seen> {
  const source = await openSource(file, file, probed);
  try {
    const picture = await source.frame(0, wholeRegion(source.info));
    const faces = await findFaces(picture);
    return { faces, described: await describeFaces(picture, faces) };
  } finally {
    source.close?.();
  }
}

function readReference(given: string): { name: string; x?: number; y?: number } {
  const [, name, x, y] = /^(.+)@(\d+),(\d+)$/.exec(given) ?? [];
  return name ? { name, x: Number(x), y: Number(y) } : { name: given };
}

/** @throws PlanError where nobody here looks like that. */
function likest(here: readonly DescribedFace[], face: DescribedFace, name: string): DescribedFace {
  const [one, ...others] = centredFaces([face, ...here]);
  const like = others.map((other) => likeness(one, other));
  const best = like.indexOf(Math.max(...like));
  if (like[best] <= 0)
    throw new PlanError(`Nobody here looks like ${name}: say which face it is for, as ${name}@X,Y with a place on that face in pixels.`);
  return here[best];
}

function at({ faces: { width, height }, described }: Seen, x: number, y: number, name: string): DescribedFace {
  const [u, v] = [x / width, y / height];
  const found = described.find((face) => u >= face.x && u <= face.x + face.width && v >= face.y && v <= face.y + face.height);
  if (!found) throw new PlanError(`No face is found at the place that "${name}" tells.`);
  return found;
}

const referencesOf = ({ x, y, width, height }: DescribedFace, pictures: readonly string[]): FaceReferences => ({
  ...{ x: x + width / 2, y: y + height / 2 },
  pictures: pictures.map((picture) => ({ picture, use: 'kept' })),
});

function restoring(plan: Plan, references: string): Plan {
  let there = false;
  const made = mapSteps(plan, (step) => {
    if (step.treatment !== 'faces') return step;
    there = true;
    return { ...step, on: true, settings: { ...step.settings, references } };
  });
  if (there) return made;
  return {
    ...plan,
    steps: [...plan.steps, { id: 'faces', treatment: 'faces', on: true, settings: { ...new FacesSettings(), references } }],
  };
}
