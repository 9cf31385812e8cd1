import { centredFaces, likeness, type LikenessFace } from './likeness';

/** A face that is to be put with others of the same person. */
export interface GroupFace extends LikenessFace {
  id: string;
  /** Two faces of one picture are two people. */
  picture: string;
  /** Frames of a film that show it: faces of one film are two people where some frame shows both. */
  along?: { first: number; last: number };
  /** The person it is by what somebody told; others join it, but it is never parted from it. */
  person?: string;
  /** Names the group it stood in when faces were last put together; left out where it was not there yet. */
  stood?: string;
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
const BEST_PAIRS = 2;
/** Questions that are asked at most. */
const MOST_QUESTIONS = 300;

/** How alike all pairs of faces are, row by row. */
export function likenesses(faces: readonly GroupFace[]): Float32Array {
  const n = faces.length;
  const alike = new Float32Array(n * n);
  const centred = centredFaces(faces);
  for (let i = 0; i < n; i++) for (let j = 0; j < i; j++) alike[i * n + j] = alike[j * n + i] = likeness(centred[i], centred[j]);
  return alike;
}

/** What speaks against two groups' being one: it was said, or they have faces of one picture. */
const APART = 1,
  ONE_PICTURE = 2;

const areSeenTogether = (a: GroupFace, b: GroupFace): boolean =>
  a.picture === b.picture && (!a.along || !b.along || (a.along.first <= b.along.last && b.along.first <= a.along.last));

/**
 * Puts faces together by person: the likest two groups first (agglomerative, each pair of groups judged by the mean of its likest pairs of faces), never
 * against what was told, and two of one picture only where it was told. A person that somebody told of grows by itself only by new faces: where those that
 * stood elsewhere look like it now, as when a correction made room, it is asked about.
 * @param alike what `likenesses` gives for the faces, where it is known.
 */
export function groupFaces(faces: readonly GroupFace[], answers: readonly PairAnswer[], alike = likenesses(faces)): Grouped {
  const n = faces.length;
  const { first, asked, apart } = told(faces, answers);
  // Groups stand at the index of their first face.
  const groups = new Map<number, Group>();
  first.forEach((at, i) => {
    const { person, stood } = faces[i];
    const group = groups.get(at) ?? { faces: [], person: undefined, stood: new Set() };
    group.faces.push(i);
    group.person ??= person;
    if (stood !== undefined) group.stood.add(stood);
    groups.set(at, group);
  });
  const links = new Links(n);
  for (let i = 0; i < n; i++)
    for (let j = 0; j < i; j++) {
      const flags = (apart.has(pairOf(i, j, n)) ? APART : 0) | (areSeenTogether(faces[i], faces[j]) ? ONE_PICTURE : 0);
      links.add(first[i], first[j], alike[i * n + j], flags);
    }
  const canJoin = (a: number, b: number): boolean => {
    const [one, other] = [groups.get(a), groups.get(b)];
    return one !== undefined && other !== undefined && mayJoin(one, other);
  };
  const nearest = new Map<number, { to: number; by: number }>();
  const seek = (at: number): void => {
    nearest.delete(at);
    for (const to of groups.keys()) {
      if (to === at || links.flags(at, to) || !canJoin(at, to)) continue;
      const by = links.mean(at, to);
      if (by > (nearest.get(at)?.by ?? -Infinity)) nearest.set(at, { to, by });
    }
  };
  for (const at of groups.keys()) seek(at);
  for (;;) {
    let best: { at: number; to: number; by: number } | undefined;
    for (const [at, { to, by }] of nearest) if (by >= SURE && (!best || by > best.by)) best = { at, to, by };
    if (!best) break;
    const { at: into, to: from } = best;
    const [kept, gone] = [groups.get(into), groups.get(from)];
    if (!kept || !gone) break;
    kept.faces.push(...gone.faces);
    kept.person ??= gone.person;
    for (const name of gone.stood) kept.stood.add(name);
    groups.delete(from);
    nearest.delete(from);
    for (const other of groups.keys()) if (other !== into) links.merge(into, from, other);
    seek(into);
    for (const other of groups.keys()) {
      if (other === into) continue;
      const known = nearest.get(other);
      if (known && (known.to === from || known.to === into)) seek(other);
      else if (!links.flags(other, into) && canJoin(other, into) && links.mean(other, into) > (known?.by ?? -Infinity))
        nearest.set(other, { to: into, by: links.mean(other, into) });
    }
  }
  const questions: PairQuestion[] = [];
  const left = [...groups];
  left.forEach(([a, one], k) => {
    for (const [b, other] of left.slice(0, k)) {
      const flags = links.flags(a, b),
        by = links.mean(a, b);
      if (flags & APART || !mayBeOne(one, other) || by < (flags & ONE_PICTURE ? TWICE : WORTH_ASKING)) continue;
      const [i, j] = likest(one.faces, other.faces, alike, n);
      if (!asked.has(pairOf(i, j, n))) questions.push({ a: faces[i].id, b: faces[j].id, likeness: by });
    }
  });
  questions.sort((a, b) => b.likeness - a.likeness || (a.a < b.a ? -1 : 1));
  return { groups: left.map(([, group]) => group.faces.map((i) => faces[i].id)), questions: questions.slice(0, MOST_QUESTIONS) };
}

interface Group {
  faces: number[];
  person?: string;
  /** Where its faces stood before. */
  stood: Set<string>;
}

/** Whether two groups may be one person by what was told. */
const mayBeOne = (one: Group, other: Group): boolean =>
  one.person === undefined || other.person === undefined || one.person === other.person;

/** Whether they may become one without being asked about. */
const mayJoin = (one: Group, other: Group): boolean =>
  mayBeOne(one, other) &&
  ((one.person === undefined && other.person === undefined) ||
    one.stood.size === 0 ||
    other.stood.size === 0 ||
    [...one.stood].some((name) => other.stood.has(name)));

/** A number for two faces, whichever comes first. */
const pairOf = (i: number, j: number, n: number): number => Math.min(i, j) * n + Math.max(i, j);

/** What was told: of each face the first that is the same person by it, pairs that were asked about, and pairs that are two people. */
function told(faces: readonly GroupFace[], answers: readonly PairAnswer[]): { first: number[]; asked: Set<number>; apart: Set<number> } {
  const n = faces.length;
  const index = new Map(faces.map((face, i) => [face.id, i]));
  const known = new Map<string, number>();
  const first = faces.map(({ person }, i) => {
    if (person === undefined) return i;
    if (!known.has(person)) known.set(person, i);
    return known.get(person) as number;
  });
  const asked = new Set<number>(),
    apart = new Set<number>();
  for (const { a, b, said } of answers) {
    const i = index.get(a),
      j = index.get(b);
    if (i === undefined || j === undefined) continue;
    asked.add(pairOf(i, j, n));
    if (said === 'different') apart.add(pairOf(i, j, n));
    const [one, other] = [Math.min(first[i], first[j]), Math.max(first[i], first[j])];
    if (said === 'same' && one !== other) first.forEach((at, k) => (first[k] = at === other ? one : at));
  }
  return { first, asked, apart };
}

/** The likest two faces of two groups. */
function likest(a: readonly number[], b: readonly number[], alike: Float32Array, n: number): [number, number] {
  let best: [number, number] = [a[0], b[0]];
  for (const i of a) for (const j of b) if (alike[i * n + j] > alike[best[0] * n + best[1]]) best = [i, j];
  return best;
}

/** The likest pairs of faces between all groups, and what speaks against their being one. */
class Links {
  /** The likest pairs of each two groups, the likest first. */
  private readonly best: Float32Array;
  private readonly against: Uint8Array;

  constructor(private readonly n: number) {
    this.best = new Float32Array(BEST_PAIRS * n * n).fill(-Infinity);
    this.against = new Uint8Array(n * n);
  }

  add(a: number, b: number, value: number, flags: number): void {
    if (a === b) return;
    for (const at of [a * this.n + b, b * this.n + a]) {
      this.against[at] |= flags;
      this.put(at, value);
    }
  }

  flags(a: number, b: number): number {
    return this.against[a * this.n + b];
  }

  /** Mean of the likest pairs, as many as there are. */
  mean(a: number, b: number): number {
    const at = BEST_PAIRS * (a * this.n + b);
    let sum = 0,
      count = 0;
    for (; count < BEST_PAIRS && this.best[at + count] > -Infinity; count++) sum += this.best[at + count];
    return count ? sum / count : -Infinity;
  }

  /** Two groups become the first of them, as a third sees it. */
  merge(into: number, from: number, other: number): void {
    const at = BEST_PAIRS * (from * this.n + other);
    const flags = this.flags(from, other);
    for (let k = 0; k < BEST_PAIRS; k++) if (k === 0 || this.best[at + k] > -Infinity) this.add(into, other, this.best[at + k], flags);
  }

  private put(pair: number, value: number): void {
    const at = BEST_PAIRS * pair;
    let [carried, k] = [value, 0];
    for (; k < BEST_PAIRS; k++) if (carried > this.best[at + k]) [this.best[at + k], carried] = [carried, this.best[at + k]];
  }
}
