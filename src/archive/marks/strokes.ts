import { CodedError } from '../../core';
import { readStroke, STROKE_MARKS, type StrokeMark } from '../../shared/marks';
import { addMarks, readMarks } from './lists';

/** Strokes that are added or, under an id that is there, put in its place; and ids of strokes that go. */
export interface StrokeChanges {
  set: StrokeMark[];
  remove: string[];
}

/**
 * Changes a list of strokes.
 * @param base the list; undefined for a new one. It stays as it is.
 * @returns the SHA-256 of the list as changed.
 */
export async function changeStrokes(folder: string, base: string | undefined, { set, remove }: StrokeChanges): Promise<string> {
  const there = base ? await readStrokes(folder, base) : [];
  const known = new Set(there.map(({ id }) => id));
  if (remove.length === 0 && set.every(({ id }) => !known.has(id))) return addMarks(folder, base, STROKE_MARKS, set);
  const changed = new Map(set.map((mark) => [mark.id, mark]));
  const gone = new Set(remove);
  const left = there.filter(({ id }) => !gone.has(id)).map((mark) => changed.get(mark.id) ?? mark);
  return addMarks(folder, undefined, STROKE_MARKS, [...left, ...set.filter(({ id }) => !known.has(id))]);
}

/** The strokes of a list. @throws CodedError `mark` where there is no such list, or it holds something else. */
export async function readStrokes(folder: string, hash: string): Promise<StrokeMark[]> {
  return (await readMarks(folder, hash)).map((given) => {
    const read = readStroke(given);
    if ('problem' in read) throw new CodedError('mark', `This hand work is no stroke: ${read.problem}.`);
    return read.mark;
  });
}
