import { centredFaces, likeness, type LikenessFace } from './likeness';

/** A face that is to be put with others of the same person. */
export interface GroupFace extends LikenessFace {
  id: string;
  /** Two faces of one picture are two people. */
  picture: string;
  /** The person it is by what somebody told; others join it, but it is never parted from it. */
  person?: string;
}

/** What somebody said of two faces; nothing is known of those they were unsure of, and they are not asked about again. */
export interface PairAnswer {
  a: string;
  b: string;
  said: 'same' | 'different' | 'unsure';
}

/** Two faces that may be one person. */
export interface PairQuestion {
  a: string;
  b: string;
  likeness: number;
}

export interface Grouped {
  /** Ids of faces that are one person, each; single ones too. */
  groups: string[][];
  /** What is worth asking, the likeliest first. */
  questions: PairQuestion[];
}

/** Likeness from which two groups are put together, and from which it is asked about. */
export const SURE = 0,
  WORTH_ASKING = -2.5;
/** Likeness from which it is asked about two faces of one picture: where several prints lie on one scan, somebody may be seen twice. */
const TWICE = 1;
/** Pairs of two groups that speak for them: the likest ones, since people change in sixty years. */
const BEST_PAIRS = 3;
/** Questions that are asked at most. */
const MOST_QUESTIONS = 300;

/** Groups on their way. */
interface Group {
  faces: number[];
  pictures: Set<string>;
  person?: string;
}

/**
 * Puts faces together by person: the likest two groups first (agglomerative, each pair of groups judged by the mean of its likest pairs of faces), never
 * against what was told, and two of one picture only where it was told.
 */
export function groupFaces(faces: readonly GroupFace[], answers: readonly PairAnswer[]): Grouped {
  const n = faces.length;
  const index = new Map(faces.map((face, i) => [face.id, i]));
  const alike = new Float32Array(n * n);
  const centred = centredFaces(faces);
  for (let i = 0; i < n; i++) for (let j = 0; j < i; j++) alike[i * n + j] = alike[j * n + i] = likeness(centred[i], centred[j]);
  const apart = new Set<number>(),
    asked = new Set<number>();
  const key = (i: number, j: number): number => Math.min(i, j) * n + Math.max(i, j);
  const groupAt = beginning(faces);
  for (const { a, b, said } of answers) {
    const i = index.get(a),
      j = index.get(b);
    if (i === undefined || j === undefined) continue;
    asked.add(key(i, j));
    if (said === 'different') apart.add(key(i, j));
  }
  for (const { a, b, said } of answers) {
    const i = index.get(a),
      j = index.get(b);
    if (said === 'same' && i !== undefined && j !== undefined && groupAt[i] !== groupAt[j]) joinGroups(groupAt, groupAt[i], groupAt[j]);
  }
  /** Whether nothing that was told speaks against it that the groups are one. */
  const mayBe = (a: Group, b: Group): boolean =>
    (a.person === undefined || b.person === undefined || a.person === b.person) &&
    !a.faces.some((i) => b.faces.some((j) => apart.has(key(i, j))));
  const oneScan = (a: Group, b: Group): boolean => [...a.pictures].some((picture) => b.pictures.has(picture));
  const may = (a: Group, b: Group): boolean => !oneScan(a, b) && mayBe(a, b);
  const linked = (a: Group, b: Group): { by: number; i: number; j: number } => {
    const best: number[] = [];
    let [top, ti, tj] = [-Infinity, a.faces[0], b.faces[0]];
    for (const i of a.faces)
      for (const j of b.faces) {
        const value = alike[i * n + j];
        if (value > top) [top, ti, tj] = [value, i, j];
        if (best.length < BEST_PAIRS || value > best[0]) {
          best.push(value);
          best.sort((x, y) => x - y);
          if (best.length > BEST_PAIRS) best.shift();
        }
      }
    return { by: best.reduce((sum, v) => sum + v, 0) / best.length, i: ti, j: tj };
  };
  const groups = new Set(groupAt);
  // Of each group the one it is likest to; sought again only where one of the two changed.
  const nearest = new Map<Group, { to: Group; by: number } | undefined>();
  const seek = (group: Group): void => {
    let found: { to: Group; by: number } | undefined;
    for (const other of groups) {
      if (other === group || !may(group, other)) continue;
      const { by } = linked(group, other);
      if (!found || by > found.by) found = { to: other, by };
    }
    nearest.set(group, found);
  };
  for (const group of groups) seek(group);
  for (;;) {
    let best: { from: Group; to: Group; by: number } | undefined;
    for (const [from, found] of nearest) if (found && found.by >= SURE && (!best || found.by > best.by)) best = { from, ...found };
    if (!best) break;
    const { from, to } = best;
    joinGroups(groupAt, from, to);
    groups.delete(to);
    nearest.delete(to);
    for (const [group, found] of nearest) if (group === from || found?.to === to || found?.to === from) seek(group);
    // What grew may be likelier to others than what they had.
    for (const group of groups) {
      if (group === from || !may(group, from)) continue;
      const { by } = linked(group, from);
      if (by > (nearest.get(group)?.by ?? -Infinity)) nearest.set(group, { to: from, by });
    }
  }
  const left = [...groups];
  const questions: PairQuestion[] = [];
  left.forEach((a, at) => {
    for (const b of left.slice(0, at)) {
      if (!mayBe(a, b)) continue;
      const { by, i, j } = linked(a, b);
      if (by >= (oneScan(a, b) ? TWICE : WORTH_ASKING) && !asked.has(key(i, j)))
        questions.push({ a: faces[i].id, b: faces[j].id, likeness: by });
    }
  });
  questions.sort((a, b) => b.likeness - a.likeness || (a.a < b.a ? -1 : 1));
  return { groups: left.map((group) => group.faces.map((i) => faces[i].id)), questions: questions.slice(0, MOST_QUESTIONS) };
}

/** Each face by itself, those of one told person together. @returns the group of each face. */
function beginning(faces: readonly GroupFace[]): Group[] {
  const known = new Map<string, Group>();
  return faces.map(({ person, picture }, i) => {
    const group = (person !== undefined && known.get(person)) || { faces: [], pictures: new Set<string>(), person };
    if (person !== undefined) known.set(person, group);
    group.faces.push(i);
    group.pictures.add(picture);
    return group;
  });
}

/** Puts all of `from` into `into`. */
function joinGroups(groupAt: Group[], into: Group, from: Group): void {
  for (const i of from.faces) groupAt[i] = into;
  into.faces.push(...from.faces);
  for (const picture of from.pictures) into.pictures.add(picture);
  into.person ??= from.person;
}
