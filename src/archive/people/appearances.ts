import { randomUUID } from 'node:crypto';
import type { Knex } from 'knex';
import type { FaceSpan, FoundAppearance } from '../../core';
import { type Archive, inTransaction } from '../database';

/** A face in a picture of the collection, as it is kept. */
export interface Appearance {
  id: string;
  itemId: string;
  /** The face's box in fractions of the source. */
  x: number;
  y: number;
  width: number;
  height: number;
  /** Width in pixels of the source. */
  pixels: number;
  blur: number | null;
  /** Degrees it is turned to its own left. */
  yaw: number;
  /** Where a film shows it. */
  along?: FaceSpan;
  personId: string | null;
  /** Whether somebody said who it is. */
  told: boolean;
  /** `dismissed` is no face or nobody who matters, `forgotten` is described no more. */
  state: 'seen' | 'dismissed' | 'forgotten';
}

/** An appearance with what it is told by. */
export interface DescribedAppearance extends Appearance {
  /** Whether it was there when faces were last put together. */
  grouped: boolean;
  residual: Float32Array;
  separable: Float32Array;
}

interface AppearanceRow extends Omit<Appearance, 'itemId' | 'personId' | 'told' | 'along'> {
  item_id: string;
  person_id: string | null;
  told: number;
  first: number | null;
  last: number | null;
  best: number | null;
  residual?: Buffer | null;
  separable?: Buffer | null;
}

/** All but the portrait and the descriptors. */
const COLUMNS = [
  ...['id', 'item_id', 'x', 'y', 'width', 'height', 'pixels', 'blur', 'yaw'],
  ...['first', 'last', 'best', 'person_id', 'told', 'state'],
].map((name) => `appearances.${name}`);

const fromRow = ({ item_id, person_id, told, first, last, best, ...row }: AppearanceRow): Appearance => ({
  ...row,
  ...(first !== null && last !== null && best !== null && { along: { first, last, best } }),
  itemId: item_id,
  personId: person_id,
  told: Boolean(told),
});

const bytesOf = ({ buffer, byteOffset, byteLength }: Float32Array): Buffer => Buffer.from(buffer, byteOffset, byteLength);

/** A copy, since what a database gives need not lie where numbers may. */
const numbersOf = (bytes: Buffer): Float32Array => new Float32Array(Uint8Array.from(bytes).buffer);

/** Whether two boxes are of one face: the middle of each lies in the other, and of a film their frames meet. */
const isSame = (a: Box & Pick<AppearanceRow, 'first' | 'last'>, b: Box & { along?: FaceSpan }): boolean =>
  (b.along === undefined || ((a.first ?? 0) <= b.along.last && b.along.first <= (a.last ?? -1))) &&
  Math.abs(a.x + a.width / 2 - b.x - b.width / 2) < Math.min(a.width, b.width) / 2 &&
  Math.abs(a.y + a.height / 2 - b.y - b.height / 2) < Math.min(a.height, b.height) / 2;

type Box = Pick<Appearance, 'x' | 'y' | 'width' | 'height'>;

/**
 * Keeps the faces of an item in place of those that were found before; what was told of a face is still told of it, and one that is forgotten stays so.
 * @param key names the picture they were found in.
 */
export async function keepAppearances({ db }: Archive, itemId: string, key: string, found: readonly FoundAppearance[]): Promise<void> {
  await inTransaction(db, async (trx) => {
    const left = await trx('appearances').where({ item_id: itemId }).select<AppearanceRow[]>(COLUMNS);
    for (const { portrait, residual, separable, blur, along, ...face } of found) {
      const at = left.findIndex((old) => isSame(old, { ...face, along }));
      const [old] = at < 0 ? [] : left.splice(at, 1);
      if (old?.state === 'forgotten') continue;
      const row = {
        ...{ ...face, blur: blur ?? null, first: along?.first ?? null, last: along?.last ?? null, best: along?.best ?? null },
        ...{ portrait: Buffer.from(portrait), residual: bytesOf(residual), separable: bytesOf(separable) },
      };
      if (old) await trx('appearances').where({ id: old.id }).update(row);
      else await trx('appearances').insert({ id: randomUUID(), item_id: itemId, ...row });
    }
    const gone = left.filter(({ state }) => state !== 'forgotten').map(({ id }) => id);
    await trx('appearances').whereIn('id', gone).delete();
    await trx('items').where({ id: itemId }).update({ faces_key: key });
  });
}

/** Marks items as wanted whose faces are looked for only where somebody wants it. */
export async function wantAppearances({ db }: Archive, items: readonly string[]): Promise<void> {
  await db('items').whereIn('id', items).whereNull('faces_key').update({ faces_key: '' });
}

/** Keys under which the faces of a collection's items were looked for, by item; empty where it is wanted, null where it was neither. */
export async function lookedForFaces({ db }: Archive, collectionId: string): Promise<Map<string, string | null>> {
  const rows = await db('items')
    .where({ collection_id: collectionId })
    .select<{ id: string; faces_key: string | null }[]>('id', 'faces_key');
  return new Map(rows.map(({ id, faces_key }) => [id, faces_key]));
}

const ofCollection = (db: Knex, collectionId: string): Knex.QueryBuilder =>
  db('appearances').join('items', 'items.id', 'appearances.item_id').where('items.collection_id', collectionId);

/** By picture and from the left: ids are random, and the same collection should have its persons in the same order everywhere. */
const ORDER = ['items.created', 'items.id', 'appearances.x', 'appearances.id'];

/** The faces of a collection that were neither dismissed nor forgotten, in the order their items were taken in. */
export async function appearancesOf({ db }: Archive, collectionId: string): Promise<Appearance[]> {
  const rows = await ofCollection(db, collectionId).where('appearances.state', 'seen').orderBy(ORDER).select<AppearanceRow[]>(COLUMNS);
  return rows.map(fromRow);
}

/** The faces of one item, from the left. */
export async function appearancesIn({ db }: Archive, itemId: string): Promise<Appearance[]> {
  const rows = await db('appearances').where({ item_id: itemId, state: 'seen' }).orderBy('x').select<AppearanceRow[]>(COLUMNS);
  return rows.map(fromRow);
}

/** The faces of a collection with their descriptors. */
export async function describedAppearances({ db }: Archive, collectionId: string): Promise<DescribedAppearance[]> {
  const rows = await ofCollection(db, collectionId)
    .where('appearances.state', 'seen')
    .whereNotNull('appearances.residual')
    .orderBy(ORDER)
    .select<(AppearanceRow & { residual: Buffer; separable: Buffer; grouped: number })[]>([
      ...COLUMNS,
      'appearances.residual',
      'appearances.separable',
      'appearances.grouped',
    ]);
  return rows.map(({ residual, separable, grouped, ...row }) => ({
    ...fromRow(row),
    grouped: Boolean(grouped),
    residual: numbersOf(residual),
    separable: numbersOf(separable),
  }));
}

/** A face cut out of its picture, as JPEG. */
export async function portraitOf({ db }: Archive, id: string): Promise<Buffer | undefined> {
  const row = await db('appearances').where({ id }).first<{ portrait: Buffer } | undefined>('portrait');
  return row?.portrait;
}
