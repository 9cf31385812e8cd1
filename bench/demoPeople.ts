import { PICTURES } from '../demo/people/sheet';

/** Portraits of a row on the album's leaves. */
const LEAF_ROW = 4;

/** The people of one of the demo's pictures in rows as they stand; of the album's leaves as they are mounted. */
export function rowsOf(name: string): string[][] {
  const { rows } = PICTURES[name];
  if (!name.startsWith('album-')) return rows;
  return Array.from({ length: Math.ceil(rows[0].length / LEAF_ROW) }, (_, n) => rows[0].slice(n * LEAF_ROW, (n + 1) * LEAF_ROW));
}

/** Whose face each is, by where it stands in one of the demo's pictures; none where not all were found, since then none can be told by its place. */
export function toldByPlace<Face extends { x: number; y: number; height: number }>(
  faces: readonly Face[],
  name: string,
): { face: Face; who: string }[] {
  const rows = rowsOf(name);
  if (faces.length !== rows.flat().length) return [];
  const left = [...faces].sort((a, b) => a.y + a.height / 2 - b.y - b.height / 2);
  return rows.flatMap((row) =>
    left
      .splice(0, row.length)
      .sort((a, b) => a.x - b.x)
      .map((face, n) => ({ face, who: row[n] })),
  );
}
