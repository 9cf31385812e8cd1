import { useEffect, useMemo, useRef, useState } from 'react';
import { useStore } from 'zustand';
import type { Plan } from '../../../shared/plan';
import { invertPlace, placeOf, type Place } from '../../../shared/maps/place';
import { secondsText } from '../../parts/format';
import { fetchProof, type Proof } from '../../parts/api';
import type { Size } from './geometry';
import { versionAt } from '../state/history';
import { findingStep, lookedNode, seenPlan, useBenchStore, type Bench, type BenchState, type FoundShown } from '../state/store';
import { firstLook, MAX_UNTILED_SOURCE, tilesOf, type Wanted } from './tiles';
import type { ProofQuery } from '../../../shared/requests';

/** A picture on the canvas, or a part of one. */
export interface Layer extends Proof {
  /** Frame of the output it belongs to. */
  frame: number;
}

/** The source's own node. */
export const SOURCE_NODE = 'source';

/** Which of the two pictures: what the result is held against, or the result. */
export type Role = 'source' | 'result';

/** Names this page among the viewers of the server. */
const VIEWER = Math.random().toString(36).slice(2);
let turns = 0;

export const nextTurn = (): number => ++turns;
export const viewerName = (role: string): string => `${VIEWER}-${role}`;

/** Longest side of a proof asked for. */
const MAX_SIDE = 4096;
/** Tiles asked for at a time: the server works one while another is on its way. */
const MAX_REQUESTS = 2;
/** Tiles kept of one picture, also out of view, and of those the ones that are drawn beneath. */
const MAX_TILES_KEPT = 48,
  MAX_TILES_BENEATH = 12;

/** Milliseconds after which a picture that lacks something is asked for again. */
const AGAIN_MS = 1500;

const side = (v: number): number => Math.max(1, Math.min(MAX_SIDE, Math.round(v)));

/** The plan of a role and the node that is seen: the left picture is the source, or another version's result. */
export function roleOf(state: BenchState, role: Role): { plan: Plan; node: string | undefined } {
  if (role === 'result') return { plan: seenPlan(state), node: lookedNode(state) };
  const other = versionAt(state.history, state.against);
  return other ? { plan: other.plan, node: undefined } : { plan: seenPlan(state), node: SOURCE_NODE };
}

/** A query for a part of the picture of a role. */
export function queryFor(bench: Bench, part: Place, pixels: Size, role: Role, turn: number): ProofQuery {
  const state = bench.getState();
  return {
    ...roleOf(state, role),
    frame: state.frame,
    region: part,
    evidence: role === 'result' && state.evidence,
    ...(role === 'result' && { found: findingStep(state) }),
    fit: { width: side(pixels.width), height: side(pixels.height) },
    viewer: viewerName(role),
    turn,
    // What the source was must not wait for what it becomes.
    lane: role === 'source' && !state.against ? 'source' : 'picture',
  };
}

/** Whether a still's result is shown so small that it can be worked as small first. */
function looksCoarse(state: BenchState, part: Place, pixels: Size): boolean {
  const { source } = state.description;
  const looked = lookedNode(state) !== undefined || state.evidence || findingStep(state) !== undefined;
  return source.frames === 1 && !looked && 2 * pixels.width <= part.width * source.width;
}

/** What a picture depends on, but for the view. */
interface Content {
  done: Plan | string;
  node: string | undefined;
  frame: number;
  evidence: boolean;
  found: string | undefined;
  round: number;
}

interface Shown {
  /** What is drawn, the lowest first. */
  layers: Layer[];
  /** Frame of what is drawn; undefined while there is only the small picture that is kept. */
  frame: number | undefined;
  /** Something that is wanted is not there yet. */
  waiting: boolean;
}

/**
 * The picture of a role, asked for anew whenever what it shows changes; what was there stays beneath until the new is whole.
 * After a change of the plan a small part in the middle comes first. `paused` keeps it from asking, such as while a proofed
 * stretch plays.
 */
export function useLayers(role: Role, part: Place | undefined, pixels: Size, paused: boolean): Shown {
  const bench = useBenchStore();
  const [shown, setShown] = useState<{ layers: Layer[]; settled?: object }>({ layers: [] });
  const kept = useKeptPicture();
  /** Rises when the same is to be asked again. */
  const [round, setRound] = useState(0);
  /** Tiles of the picture as it is now, by their place. */
  const tiles = useRef<{ content?: Content; known: Map<string, Layer> }>({ known: new Map() });
  const plan = useStore(bench, (s) => roleOf(s, role).plan);
  const node = useStore(bench, (s) => roleOf(s, role).node);
  const frame = useStore(bench, (s) => s.frame);
  const output = useStore(bench, (s) => s.output);
  const evidence = useStore(bench, (s) => role === 'result' && s.evidence);
  const found = useStore(bench, (s) => (role === 'result' ? findingStep(s) : undefined));
  // The source looks the same whatever is done to it, while the output keeps its shape.
  const done = node === SOURCE_NODE ? JSON.stringify(output) : plan;
  const content: Content = useMemo(() => ({ done, node, frame, evidence, found, round }), [done, node, frame, evidence, found, round]);
  // Parts that differ by less than a screen pixel are the same query.
  const view =
    part &&
    JSON.stringify([part, { width: Math.round(pixels.width), height: Math.round(pixels.height) }], (_, v: unknown) =>
      typeof v === 'number' && v < 1 ? Math.round(v * 20_000) / 20_000 : v,
    );
  const asked = useMemo(() => (view && !paused ? { content, view } : undefined), [content, view, paused]);
  useEffect(() => {
    if (!asked) return;
    const controller = new AbortController();
    const { signal } = controller;
    const started = performance.now();
    const [region, size] = JSON.parse(asked.view) as [Place, Size];
    const old = tiles.current.content;
    // After a change of the plan, on opening and after a jump one waits for the first thing there is to see.
    const changed = old !== asked.content && role === 'result';
    if (old !== asked.content) tiles.current = { content: asked.content, known: new Map() };
    const { known } = tiles.current;
    const turn = nextTurn();
    const ask = async ({ region: r, fit }: Wanted, how: Pick<ProofQuery, 'draft' | 'coarse'> = {}): Promise<Layer | undefined> => {
      const query = { ...queryFor(bench, r, fit, role, turn), ...how };
      const answer = await fetchProof(bench.getState().item.id, query, signal);
      return answer && !signal.aborted ? { ...answer, frame: asked.content.frame } : undefined;
    };
    const untiled = asked.content.node === SOURCE_NODE ? MAX_UNTILED_SOURCE : undefined;
    const wanted = tilesOf(region, size, bench.getState().output, window.devicePixelRatio, untiled);
    const keyOf = ({ region: r }: Wanted): string => JSON.stringify(r);
    const work = async (): Promise<void> => {
      const missing = wanted.filter((w) => !known.has(keyOf(w)));
      // At another frame the source comes first, with all of the machine.
      if (role === 'result' && old?.frame !== asked.content.frame) await untilSource(bench, asked.content.frame, signal);
      if (signal.aborted) return;
      const coarse =
        changed && missing.length && looksCoarse(bench.getState(), region, size)
          ? await ask({ region, fit: size }, { coarse: true })
          : undefined;
      if (signal.aborted) return;
      if (coarse) {
        setShown((before) => ({ ...before, layers: [...before.layers, coarse] }));
        bench.setState({ firstTime: performance.now() - started });
        await untilPainted();
        if (signal.aborted) return;
      }
      const first = changed && missing.length && !coarse ? firstLook(region, size) : undefined;
      if (first) {
        // At another frame nothing is remembered yet: a quick look stands in until the whole is there.
        const draft = old?.frame !== asked.content.frame;
        const look = await ask(first, { ...(draft && { draft }) });
        if (signal.aborted) return;
        if (look) setShown((before) => ({ ...before, layers: [...before.layers, look] }));
        if (look && role === 'result') bench.setState({ firstTime: performance.now() - started });
        // The whole takes all of the machine: what is there is painted before.
        if (draft) await untilPainted();
        if (signal.aborted) return;
      }
      const whole: Proof[] = [];
      const lane = async (): Promise<void> => {
        for (let next = missing.shift(); next; next = missing.shift()) {
          const layer = await ask(next);
          if (signal.aborted) return;
          if (!layer) continue;
          known.set(keyOf(next), layer);
          whole.push(layer);
          if (wanted.length > 1) setShown((before) => ({ ...before, layers: [...before.layers, layer] }));
        }
      };
      await Promise.all(Array.from({ length: Math.min(MAX_REQUESTS, missing.length) }, lane));
      if (signal.aborted) return;
      for (const key of known.keys()) if (known.size > MAX_TILES_KEPT && !wanted.some((w) => keyOf(w) === key)) known.delete(key);
      const there = wanted.flatMap((w) => known.get(keyOf(w)) ?? []);
      // Coarser looks at the same picture lie beneath, for what a move uncovers before its own tiles come.
      const extent = ({ place: p }: Layer): number => p.width * p.height;
      const beneath = [...known.values()]
        .filter((l) => !there.includes(l))
        .sort((a, b) => extent(b) - extent(a))
        .slice(0, MAX_TILES_BENEATH);
      setShown({ layers: [...beneath, ...there], settled: asked });
      if (role === 'source') bench.setState({ sourceAt: asked.content.frame });
      if (role === 'result' && whole.length) noteAnswers(bench, whole, performance.now() - started);
      // What is left out comes as soon as it is measured.
      if (whole.some((a) => a.awaited.some((w) => !w.problem))) setTimeout(() => !signal.aborted && setRound((r) => r + 1), AGAIN_MS);
    };
    work().catch((error: Error) => {
      if (signal.aborted) return;
      setShown((before) => ({ ...before, settled: asked }));
      if (role === 'result') bench.setState({ problem: error.message });
    });
    return () => controller.abort();
  }, [bench, role, asked]);
  const layers = useMemo(() => (kept && shown.layers.length === 0 ? [kept] : shown.layers), [kept, shown.layers]);
  return { layers, frame: shown.layers.at(-1)?.frame, waiting: asked !== undefined && shown.settled !== asked };
}

/** Milliseconds until a page that is not on screen counts as painted. */
const UNSEEN_MS = 100;

/** After what was changed is on screen. */
const untilPainted = (): Promise<unknown> =>
  Promise.race([
    new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve))),
    new Promise((resolve) => setTimeout(resolve, UNSEEN_MS)),
  ]);

/** Milliseconds a result waits for its source's picture at the most. */
const SOURCE_FIRST_MS = 400;

function untilSource(bench: Bench, frame: number, signal: AbortSignal): Promise<void> {
  return new Promise((resolve) => {
    if (bench.getState().sourceAt === frame) return resolve();
    const stop = bench.subscribe(({ sourceAt }) => sourceAt === frame && go());
    const timer = setTimeout(() => go(), SOURCE_FIRST_MS);
    const go = (): void => {
      stop();
      clearTimeout(timer);
      resolve();
    };
    signal.addEventListener('abort', go, { once: true });
  });
}

/** The small picture that is kept of the item, where the source lies in the output: seen until the first frame comes. */
function useKeptPicture(): Layer | undefined {
  const bench = useBenchStore();
  const [kept, setKept] = useState<Layer>();
  useEffect(() => {
    let wanted = true;
    const { item, description, frame } = bench.getState();
    const { geometry, output, source } = description;
    const image = new Image();
    image.src = `/api/items/${item.id}/thumbnail`;
    void image
      .decode()
      .then(() => createImageBitmap(image))
      .then((bitmap) => {
        const { x, y, width, height } = placeOf(invertPlace(geometry), { x: 0, y: 0, ...sizeOf(source) });
        const place = { x: x / output.width, y: y / output.height, width: width / output.width, height: height / output.height };
        if (wanted) setKept({ bitmap, place, output, milliseconds: 0, steps: [], awaited: [], frame });
      })
      // There is none of items that could not be examined.
      .catch(() => undefined);
    return () => {
      wanted = false;
    };
  }, [bench]);
  return kept;
}

const sizeOf = ({ width, height }: { width: number; height: number }): { width: number; height: number } => ({ width, height });

/** left out until its traces are measured: 40 %, 12 s left */
const awaitedText = ({ name, share, secondsLeft, problem }: Proof['awaited'][number]): string =>
  problem
    ? `left out, for its ${name} cannot be measured: ${problem}`
    : `left out until its ${name} is measured: ${Math.round(share * 100)} %${secondsLeft === undefined ? '' : `, ${secondsText(secondsLeft)} left`}`;

/** What was found in all parts together. */
function faultsOf(answers: Proof[]): FoundShown | undefined {
  const found = answers.flatMap((a) => a.found ?? []);
  if (found.length === 0) return undefined;
  const counts = found[0].counts.map(({ name }, k) => ({ name, count: found.reduce((sum, f) => sum + f.counts[k].count, 0) }));
  return { counts, share: found.reduce((sum, f) => sum + f.share, 0) / found.length };
}

/** Takes over what proofs told: the output's size, and the cost of the steps that were not remembered. */
function noteAnswers(bench: Bench, answers: Proof[], milliseconds: number): void {
  bench.setState((state) => {
    const [{ output }] = answers;
    const costs: Record<string, number> = {};
    // The largest part tells best: of a narrow one the borders are most of the work.
    const bySize = answers.toSorted((a, b) => a.place.width * a.place.height - b.place.width * b.place.height);
    for (const { steps } of bySize) for (const step of steps) if (step.milliseconds > 0.2) costs[step.id] = step.milliseconds;
    const same = JSON.stringify(state.output) === JSON.stringify(output);
    return {
      problem: undefined,
      faults: faultsOf(answers),
      awaited: Object.fromEntries(answers[0].awaited.map((w) => [w.step, awaitedText(w)])),
      proofTime: milliseconds,
      costs: { ...state.costs, ...costs },
      ...(same ? {} : { output, frame: Math.min(state.frame, output.frames - 1) }),
    };
  });
}
