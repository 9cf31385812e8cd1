import type { PlanHistory } from '../../../archive';
import type { Plan } from '../../../shared/plan';

/** One version of the plan as the bench knows it. */
export interface Version {
  key: string;
  parent: string | undefined;
  plan: Plan;
  /** What was changed, in words. */
  change: string;
  name: string;
  /** ISO 8601. */
  created: string;
  /** The archive's number, once it is kept. */
  number?: number;
}

/** What the archive has yet to be told of a version. */
export interface Unsent {
  what: 'keep' | 'go' | 'name';
  key: string;
}

/** All versions, where one is, and the end of the branch that redo walks. */
export interface History {
  versions: Version[];
  at: string;
  tip: string;
  unsent: Unsent[];
}

const keyOf = (version: number): string => `v${version}`;
let made = 0;

export function historyFrom({ versions, current, tip }: PlanHistory): History {
  return {
    versions: versions.map((v) => ({
      key: keyOf(v.version),
      parent: v.parent ? keyOf(v.parent) : undefined,
      plan: v.plan,
      change: v.change,
      name: v.name,
      created: v.created,
      number: v.version,
    })),
    at: keyOf(current),
    tip: keyOf(tip),
    unsent: [],
  };
}

export const versionAt = ({ versions }: History, key: string | undefined): Version | undefined =>
  key === undefined ? undefined : versions.find((v) => v.key === key);

/** The versions from the first to one, along its branch. */
function branchTo(history: History, key: string): string[] {
  const branch: string[] = [];
  for (let at = versionAt(history, key); at; at = versionAt(history, at.parent)) branch.unshift(at.key);
  return branch;
}

/** The history with a changed plan as the new present. */
export function recorded(history: History, plan: Plan, change: string): History {
  const key = `new-${++made}`;
  const version: Version = { key, parent: history.at, plan, change, name: '', created: new Date().toISOString() };
  return { versions: [...history.versions, version], at: key, tip: key, unsent: [...history.unsent, { what: 'keep', key }] };
}

/** The history with another version as the present. */
export function movedTo(history: History, key: string): History {
  const ahead = branchTo(history, history.tip).includes(key);
  // Of several moves in a row only the last counts; the first of the list may be on its way already.
  const { unsent } = history;
  const kept = unsent.length > 1 && unsent[unsent.length - 1].what === 'go' ? unsent.slice(0, -1) : unsent;
  return { ...history, at: key, tip: ahead ? history.tip : key, unsent: [...kept, { what: 'go', key }] };
}

/** The version undo leads to; undefined at the first. */
export const before = (history: History): string | undefined => versionAt(history, versionAt(history, history.at)?.parent)?.key;

/** The version redo leads to; undefined at the tip. */
export function after(history: History): string | undefined {
  const branch = branchTo(history, history.tip);
  return branch[branch.indexOf(history.at) + 1];
}
