import { archive, type PersonAnswer } from '../archive';
import { lookForPeople, peopleOf } from '../render';
import { collectionNamed } from './collectionNamed';

/**
 * Who is in the pictures of a collection; those that were not looked at are looked at first.
 * @returns a line for each person and one for each picture of them, or all of it as JSON.
 * @throws MediaError when there is no such collection.
 */
export async function peopleCommand(name: string, json: boolean): Promise<string> {
  const a = await archive();
  try {
    const collection = await collectionNamed(a, name);
    await lookForPeople(a, collection.id);
    const people = await peopleOf(collection);
    if (json) return JSON.stringify(people, null, 2);
    const rest = [
      `${people.single.length} faces seen once or not known`,
      `${people.questions.length} pairs to be asked about`,
      ...(people.problem ? [`not looked at: ${people.problem}`] : []),
    ];
    return [...people.persons.map(personText), ...rest].join('\n');
  } finally {
    await a.db.destroy();
  }
}

function personText({ name, born, died, faces }: PersonAnswer, at: number): string {
  const years = born === null && died === null ? '' : ` (${born ?? '?'}-${died ?? ''})`;
  const lines = faces.map(({ itemName, year, age, pixels }) => {
    const told = [year, age !== undefined && `aged ${age}`, `${pixels} px`].filter(Boolean).join(', ');
    return `  ${itemName}: ${told}`;
  });
  return [`${name || `not named, ${at + 1}`}${years}: ${faces.length} pictures`, ...lines].join('\n');
}
