import path from 'node:path';
import sharp from 'sharp';
import {
  type Appearance,
  appearancesIn,
  appearancesOf,
  archive,
  facesAnalysis,
  findItem,
  type Item,
  keepReference,
  listItems,
  personsOf,
  readPicture,
  readReference,
  type ReferenceInfo,
  type ReferencesAnswer,
} from '../archive';
import { boundsOf, CodedError, type DatedFace, type Faces, type LaidPicture, referenceFit, supportedPlan } from '../core';
import { MediaError, probePart, sha256File } from '../media';
import { toldDate } from '../shared/about';
import { MOST_REFERENCES } from '../shared/faceReferences';
import type { ReferencesRequest } from '../shared/requests';
import { SAME_PLACE } from '../shared/maps/place';
import { analysed } from './analyse';
import { facePart, REFERENCE_WIDTH } from './facePart';
import { meshNear } from './itemFaces';
import { presentPlan, shownFace, withFile } from './laidPicture';
import { peopleIn } from './people';
import { layFile } from './proofPool';

/** Side of the small pictures that references are told apart by. */
const SMALL = 72;

const yearOf = (item: Item | undefined): number | undefined => {
  const year = item && toldDate(item.about.date)?.year;
  return year === undefined ? undefined : Number(year);
};

const dated = ({ pixels, yaw, blur }: Appearance, item: Item | undefined): DatedFace => {
  const year = yearOf(item);
  return { pixels, yaw, ...(blur !== null && { blur }), ...(year !== undefined && { year }) };
};

const shows = ({ x, y, width, height, along }: Appearance, at: ReferencesRequest): boolean =>
  Math.abs(at.x - x - width / 2) < width / 2 &&
  Math.abs(at.y - y - height / 2) < height / 2 &&
  (at.frame === undefined || along === undefined || (along.first <= at.frame && at.frame <= along.last));

/**
 * The pictures of the collection that serve best to restore a face, of films their best frames, by what People knows: near in pose and in age, and
 * showing more. Each is kept as its plan makes it, without what that invents; one that the plan cuts off is passed over.
 */
export async function chooseReferences(item: Item, at: ReferencesRequest): Promise<ReferencesAnswer> {
  const a = await archive();
  // Looks for the people of a still, and puts faces together.
  await peopleIn(item);
  const own = (await appearancesIn(a, item.id)).find((face) => shows(face, at));
  const person = own?.personId ? (await personsOf(a, item.collectionId)).find(({ id }) => id === own.personId) : undefined;
  if (!own || !person) return { pictures: [], unknown: true };
  const items = new Map((await listItems(a, item.collectionId)).map((one) => [one.id, one]));
  const face = dated(own, item);
  const fits = (await appearancesOf(a, item.collectionId))
    .filter(({ personId, itemId }) => personId === person.id && itemId !== item.id)
    .map((other) => ({ other, fit: referenceFit(face, dated(other, items.get(other.itemId)), person.born ?? undefined) }))
    .filter(({ fit }) => fit > 0)
    .sort((one, two) => two.fit - one.fit);
  const pictures: string[] = [];
  for (const { other } of fits) {
    if (pictures.length === MOST_REFERENCES) break;
    const there = await findItem(a, other.itemId);
    const kept = there && (await keptFace(there, other));
    if (kept) pictures.push(kept);
  }
  return { pictures, ...(person.name && { person: person.name }) };
}

/** Keeps a face, of a film in its best frame, as what the item's plan says of it without inventing anything; undefined where the plan cuts it off. */
async function keptFace(item: Item, { x, y, width, height, along }: Appearance): Promise<string | undefined> {
  const frame = along?.best ?? 0;
  const mesh = await meshNear(item, { x: x + width / 2, y: y + height / 2 }, frame);
  const plan = await presentPlan(item);
  const shown = await shownFace(item, { mesh, frame }, supportedPlan(plan) ?? plan, REFERENCE_WIDTH);
  if (!shown) return undefined;
  const year = yearOf(item);
  const from = { name: along ? `${item.name}, frame ${frame}` : item.name, item: item.id, ...(year !== undefined && { year }) };
  return keepReference((await archive()).paths.marks, shown, from);
}

/**
 * Keeps the largest face of a picture that comes as a file.
 * @throws MediaError where it is no still, CodedError where it shows no face.
 */
export const referenceFromFile = (body: ReadableStream<Uint8Array> | null, name: string): Promise<ReferencesAnswer> =>
  withFile(body, async (file) => {
    const { paths } = await archive();
    const probed = await probePart(file, undefined);
    if (probed.facts.kind !== 'still') throw new MediaError('Only a still shows a face to restore others by: this is a moving image.');
    const { stream: info, profile } = probed.facts;
    const found = await analysed({
      ...{ analysis: facesAnalysis, file: path.join(path.dirname(file), 'faces.json'), stream: info },
      describe: async () => ({ source: { path: file, key: await sha256File(file), probed, info } }),
    });
    const { picture } = await layFile({ file, profile, folder: paths.marks });
    const face = largestFace(found, await readPicture(paths.marks, picture));
    if (!face) throw new CodedError('mark', `No face is found in ${name}.`);
    return { pictures: [await keepReference(paths.marks, face, { name })] };
  });

/** What is round the largest face of a picture that a mesh lies over; undefined where there is none. */
export function largestFace({ faces }: Pick<Faces, 'faces'>, picture: LaidPicture): (LaidPicture & { mesh: Float32Array }) | undefined {
  const mesh = faces.find((face) => face.mesh)?.mesh;
  return (
    mesh &&
    facePart(
      picture,
      mesh.map((v, i) => v * (i % 2 ? picture.height : picture.width)),
      { to: SAME_PLACE, most: REFERENCE_WIDTH },
    )
  );
}

/** What is known of pictures that faces are restored by. @throws CodedError for one that is not kept. */
export async function referenceInfos(pictures: readonly string[]): Promise<ReferenceInfo[]> {
  const { marks } = (await archive()).paths;
  return Promise.all(
    pictures.map(async (picture) => {
      const { from } = await readReference(marks, picture);
      const { data, width, height, mesh } = await readPicture(marks, picture);
      const bytes = Uint8Array.from(data, (v) => v >> 8);
      const small = await sharp(bytes, { raw: { width, height, channels: 3 } })
        .resize(SMALL, SMALL, { fit: 'cover' })
        .jpeg({ quality: 82 })
        .toBuffer();
      return {
        picture,
        ...from,
        pixels: mesh ? Math.round(boundsOf(mesh).width) : width,
        small: `data:image/jpeg;base64,${small.toString('base64')}`,
      };
    }),
  );
}
