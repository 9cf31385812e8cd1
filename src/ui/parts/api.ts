import type { Collection, Item, PlanDescription, PlanHistory, PlanVersion, TreatmentInfo } from '../../archive';
import type { StreamInfo } from '../../core';
import type { Plan } from '../../shared/plan';

export type { PlanDescription, TreatmentInfo };

/** What the bench needs of an item. */
export interface ItemAnswer {
  item: Item;
  collection: Collection;
  plan?: PlanVersion;
  history: PlanHistory;
  description?: PlanDescription;
  treatments: TreatmentInfo[];
}

/** JSON of a route of this application. @throws Error with the server's words. */
export async function api<T>(path: string, init?: RequestInit & { json?: unknown }): Promise<T> {
  const { json, ...rest } = init ?? {};
  const response = await fetch(`/api/${path}`, {
    ...rest,
    ...(json !== undefined && { body: JSON.stringify(json), headers: { 'content-type': 'application/json' } }),
  });
  if (!response.ok) throw new Error(await errorText(response));
  return (response.status === 204 ? undefined : await response.json()) as T;
}

export async function errorText(response: Response): Promise<string> {
  const body = (await response.json().catch(() => undefined)) as { error?: string } | undefined;
  return body?.error ?? `The server answered ${response.status}.`;
}

export interface Rect {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface ProofAnswer {
  bitmap: ImageBitmap;
  /** Where it lies in the plan's output, as fractions of it. */
  place: Rect;
  /** Stream after the whole plan. */
  output: StreamInfo;
  milliseconds: number;
  /** Share of the part the source does not support, with the evidence map. */
  invented?: number;
  figures?: { edges: number | null; noise: number };
  steps: { id: string; milliseconds: number }[];
  /** Steps left out until something is measured, what that is, and how far. */
  awaited: { step: string; name: string; share: number; secondsLeft?: number; problem?: string }[];
}

/** What is to be seen: `region` in fractions of the plan's output, `fit` the most pixels wanted. */
export interface ProofQuery {
  plan: Plan;
  frame: number;
  region: Rect;
  /** Id of a step, a fork or a branch, or `source`; the plan's output when left out. */
  node?: string;
  /** The evidence map instead of the picture. */
  evidence?: boolean;
  /** Measures the result too. */
  figures?: boolean;
  /** A quick first look, which the whole follows: not what a render gives. */
  draft?: boolean;
  fit: { width: number; height: number };
  viewer: string;
  /** A higher number drops the viewer's queries before it. */
  turn: number;
  lane: 'source' | 'picture' | 'side';
}

/** A proof; undefined when a newer query replaced it. */
export async function fetchProof(itemId: string, query: ProofQuery, signal: AbortSignal): Promise<ProofAnswer | undefined> {
  const response = await fetch(`/api/items/${itemId}/proof`, {
    method: 'POST',
    body: JSON.stringify(query),
    headers: { 'content-type': 'application/json' },
    signal,
  });
  if (response.status === 409) return undefined;
  if (!response.ok) throw new Error(await errorText(response));
  const told = JSON.parse(response.headers.get('wairetic-proof') ?? '{}') as Omit<ProofAnswer, 'bitmap'> & {
    width: number;
    height: number;
  };
  const pixels = new Uint8ClampedArray(await response.arrayBuffer());
  return { ...told, bitmap: await createImageBitmap(new ImageData(pixels, told.width, told.height)) };
}
