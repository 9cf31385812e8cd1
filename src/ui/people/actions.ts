import type { PersonAnswer } from '../../archive';
import type { PeopleRequest, PersonRequest } from '../../shared/requests';

/** What is done to people; each says whether it was kept. */
export interface PeopleActions {
  say(request: PeopleRequest): Promise<boolean>;
  tell(person: string, told: PersonRequest): Promise<boolean>;
}

/** As somebody is called where nobody said who it is: by the place among those without a name, as they are listed. */
export function nameOf(person: PersonAnswer, persons: readonly PersonAnswer[]): string {
  if (person.name) return person.name;
  const listed = inOrder(persons).filter(({ name }) => !name);
  return `Not named, ${listed.indexOf(person) + 1}`;
}

/** Those with a name first, then by how often they appear. */
export const inOrder = (persons: readonly PersonAnswer[]): PersonAnswer[] =>
  [...persons].sort((a, b) => Number(b.name !== '') - Number(a.name !== '') || b.faces.length - a.faces.length);

/** Years of a life, as they stand beside a name. */
export function yearsOf({ born, died }: Pick<PersonAnswer, 'born' | 'died'>): string {
  if (born === null && died === null) return '';
  return `${born ?? '?'}–${died ?? ''}`;
}

/** The face somebody is shown by: their best one. */
export const faceOf = ({ faces }: PersonAnswer): string | undefined =>
  faces.reduce((best, face) => (best && best.worth >= face.worth ? best : face), faces.at(0))?.id;

export const portrait = (face: string): string => `/api/appearances/${face}`;
