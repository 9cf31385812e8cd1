import { CodedError } from '../../core';
import { LRUCache } from 'lru-cache';
import { keepJson, readDocument } from './documents';

/**
 * Marks of one kind in the order they were made, such as strokes or placements. They are kept in pieces, so that one mark more writes one
 * piece and a short list of pieces anew, however many there are.
 */
interface MarkList {
  format: 'wairetic-marks';
  version: 1;
  kind: string;
  /** Pieces, each a list of marks, by their SHA-256. */
  pieces: string[];
  count: number;
}

/** Marks of a whole piece. */
const PIECE_MARKS = 100;
/** Most marks of one list, and pieces held in memory. */
const MAX_MARKS = 100_000,
  PIECES_HELD = 2000;

const held = new LRUCache<string, readonly unknown[]>({ max: PIECES_HELD });

async function readList(folder: string, hash: string): Promise<MarkList> {
  const list = JSON.parse((await readDocument(folder, hash)).toString()) as Partial<MarkList>;
  if (list.format !== 'wairetic-marks' || list.version !== 1 || !Array.isArray(list.pieces))
    throw new CodedError('mark', 'This hand work is no list of marks.');
  return list as MarkList;
}

async function readPiece(folder: string, hash: string): Promise<readonly unknown[]> {
  const known = held.get(hash);
  if (known) return known;
  const piece = JSON.parse((await readDocument(folder, hash)).toString()) as unknown[];
  held.set(hash, piece);
  return piece;
}

/** All marks of a list. @throws CodedError `mark` where it is not there or none. */
export async function readMarks(folder: string, hash: string): Promise<readonly unknown[]> {
  const { pieces } = await readList(folder, hash);
  return (await Promise.all(pieces.map((piece) => readPiece(folder, piece)))).flat();
}

/**
 * Adds marks at the end of a list.
 * @param base the list; undefined for a new one.
 * @returns the new list's SHA-256; the former stays as it is.
 */
export async function addMarks(folder: string, base: string | undefined, kind: string, marks: readonly unknown[]): Promise<string> {
  const list = base ? await readList(folder, base) : { pieces: [], count: 0, kind };
  if (list.kind !== kind) throw new CodedError('mark', `These are marks for ${list.kind}, not for ${kind}.`);
  if (list.count + marks.length > MAX_MARKS) throw new CodedError('mark', `A step takes up to ${MAX_MARKS} marks.`);
  const pieces = [...list.pieces];
  const last = list.count % PIECE_MARKS === 0 ? [] : await readPiece(folder, pieces.pop() as string);
  const left = [...last, ...marks];
  for (let at = 0; at < left.length; at += PIECE_MARKS) pieces.push(await keepJson(folder, left.slice(at, at + PIECE_MARKS)));
  return keepList(folder, kind, pieces, list.count + marks.length);
}

/** Takes marks out of a list, by their numbers. @returns the new list's SHA-256. */
export async function removeMarks(folder: string, base: string, numbers: readonly number[]): Promise<string> {
  const { kind } = await readList(folder, base);
  const gone = new Set(numbers);
  const left = (await readMarks(folder, base)).filter((_, n) => !gone.has(n));
  return addMarks(folder, undefined, kind, left);
}

const keepList = (folder: string, kind: string, pieces: string[], count: number): Promise<string> =>
  keepJson(folder, { format: 'wairetic-marks', version: 1, kind, pieces, count } satisfies MarkList);
