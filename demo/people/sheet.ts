import type { Name } from './cast';
import pictures from './pictures.json' with { type: 'json' };

/** Eight faces in three poses each, a row a pose: the sheet by which the faces are judged. Pixels, and degrees of the head's turn. */
export const SHEET = { width: 132, height: 152, turns: [-20, 0, 22] };

/** Who is in each picture of people, from the left, the upper row first; when it was taken, and who wears glasses. */
export const PICTURES: Record<string, { year: number; rows: string[][]; glasses: string[] }> = pictures;

/** Leaves of the family's album: the year, and who is on it, from the left. Pixels of a portrait. */
export const ALBUM = {
  width: 240,
  height: 288,
  leaves: Object.entries(PICTURES)
    .filter(([name]) => name.startsWith('album-'))
    .map(([, { year, rows }]) => ({ year, people: rows[0] as Name[] })),
};
