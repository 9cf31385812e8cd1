import { archive, type PersonAnswer } from '../archive';
import { lookForPeople, peopleOf, wantFilms } from '../render';
import { collectionNamed } from './collectionNamed';

/**
 * Who is in the pictures of a collection; those that were not looked at are looked at first, `films` too where it is asked for.
 * @returns a line for each person and one for each picture of them, or all of it as JSON.
 * @throws MediaError when there is no such collection.
 */
export async function peopleCommand(name: string, { json, films }: { json: boolean; films: boolean }): Promise<string> {
  const a = await archive();
  try {
    const collection = await collectionNamed(a, name);
    if (films) await wantFilms(a, collection.id);
    await lookForPeople(a, collection.id);
    const people = await peopleOf(collection);
    if (json) return JSON.stringify(people, null, 2);
    const rest = [
      `${people.single.length} faces seen once or not known`,
      `${people.questions.length} pairs to be asked about`,
      ...(people.films ? [`${people.films} films not looked through: --films does`] : []),
      ...(people.problem ? [`not looked at: ${people.problem}`] : []),
    ];
    return [...people.persons.map(personText), ...rest].join('\n');
  } finally {
    await a.db.destroy();
  }
}

function personText({ name, born, died, faces }: PersonAnswer, at: number): string {
  const years = born === null && died === null ? '' : ` (${born ?? '?'}-${died ?? ''})`;
  const lines = faces.map(({ itemName, year, age, pixels, along }) => {
    const told = [year, age !== undefined && `aged ${age}`, `${pixels} px`, along && `frames ${along.first} to ${along.last}`].filter(
      Boolean,
    );
    return `  ${itemName}: ${told.join(', ')}`;
  });
  return [`${name || `not named, ${at + 1}`}${years}: ${faces.length} pictures`, ...lines].join('\n');
}
