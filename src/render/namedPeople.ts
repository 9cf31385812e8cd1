import { appearancesIn, type Archive, type Item, type Job, measuredStream, personsOf } from '../archive';
import { layOut } from '../core';
import type { PlacedPeople } from '../media';
import { stepsOn } from '../shared/plan';
import { invertPlace, placeOf, scaling, composePlaces } from '../shared/maps/place';

/** Who is named in what a plan makes of a still, and where; those that it cuts away are left out, and all where it redacts. */
export async function namedPeople(
  a: Archive,
  item: Item,
  { plan, options }: Pick<Job, 'plan' | 'options'>,
): Promise<PlacedPeople | undefined> {
  if (!options.namePlaces || item.kind !== 'still' || stepsOn(plan).some(({ treatment }) => treatment === 'redact')) return undefined;
  const source = measuredStream(item);
  const { output } = layOut(plan, source, '');
  const { width, height } = output.stream;
  const toOutput = composePlaces(
    scaling(1 / width, 1 / height),
    composePlaces(invertPlace(output.geometry(0)), scaling(source.width, source.height)),
  );
  const names = new Map((await personsOf(a, item.collectionId)).map(({ id, name }) => [id, name]));
  const faces = (await appearancesIn(a, item.id)).flatMap(({ personId, ...box }) => {
    const name = personId === null ? '' : (names.get(personId) ?? '');
    const place = placeOf(toOutput, box);
    const [x, y] = [place.x + place.width / 2, place.y + place.height / 2];
    return name && x > 0 && y > 0 && x < 1 && y < 1 ? [{ name, place }] : [];
  });
  return { width, height, faces };
}
