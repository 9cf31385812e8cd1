import { LRUCache } from 'lru-cache';
import sharp from 'sharp';
import {
  areaPicture,
  Cancelled,
  chromaGrid,
  compile,
  costOf,
  draftPlan,
  evidenceMap,
  type EvidenceMap,
  type FoundFaults,
  foundFaults,
  frameBefore,
  type Graph,
  growRegion,
  inventedShare,
  measureBlur,
  measureGrain,
  type Node,
  ownPlan,
  paintEvidence,
  paintFaults,
  type Picture,
  PictureCache,
  placeBetween,
  planeRegion,
  type Region,
  type StreamInfo,
  supportedPlan,
  tiledPicture,
  toScreen,
  wholeRegion,
} from '../core';
import { allForks, allSteps, type Plan } from '../shared/plan';
import type { Place } from '../shared/maps/place';
import type { ProofReport, ProofFigures } from '../archive';
import { forSrgbScreen, type OpenSource, openSource } from '../media';
import type { ProofQuery } from '../shared/requests';
import { resourcesOf } from './resources';
import type { SourceRef } from './segment';

/** A look at the plan's result, or at the picture as one of its nodes gives it, as a thread gets it. */
export interface ProofRequest extends Omit<ProofQuery, 'viewer' | 'turn' | 'lane'> {
  source: SourceRef;
  /** The query it belongs to: work stops once the shared number is another. */
  turn?: { shared: SharedArrayBuffer; number: number };
}

/** A proof's pixels, and what it says of them. */
export interface ProofImage extends Omit<ProofReport, 'awaited'> {
  /** Red, green, blue, opacity, a byte each. */
  pixels: Uint8Array;
}

/** Pictures kept between proofs. */
const CACHE_BYTES = 400 << 20;
/** Pixels of a proof that are made in one go; more could not be stopped soon enough when another is asked for. */
const MAX_UNTILED_PIXELS = 3_000_000;
/** Sources kept open. */
const MAX_OPEN_SOURCES = 3;

const cache = new PictureCache(CACHE_BYTES);
const open = new LRUCache<string, Promise<OpenSource>>({
  max: MAX_OPEN_SOURCES,
  dispose: (source) => void source.then((s) => s.close?.()).catch(() => undefined),
});

export function sourceOf(ref: SourceRef): Promise<OpenSource> {
  const key = `${ref.key}/${ref.info.fieldOrder}`;
  const known = open.get(key);
  if (known) return known;
  const opened = openSource(ref.path, ref.key, ref.probed, ref.info, true);
  open.set(key, opened);
  // What cannot be opened now may be there the next time.
  opened.catch(() => open.delete(key));
  return opened;
}

/**
 * Computes a proof.
 * @throws Cancelled when a newer request came.
 */
export async function makeProof(request: ProofRequest): Promise<ProofImage> {
  const start = performance.now();
  const state = request.turn && new Int32Array(request.turn.shared);
  const cancelled = (): boolean => state !== undefined && Atomics.load(state, 0) !== request.turn?.number;
  if (cancelled()) throw new Cancelled();
  const source = await sourceOf(request.source);
  const resources = { cache, cancelled, ...resourcesOf(request.source) };
  const plan = request.draft ? draftPlan(request.plan) : request.plan;
  const graph = compile(plan, source, resources);
  const { output } = graph;
  const node = nodeOf(graph, request.found ?? request.node);
  // Faults are shown in the picture that the step reads.
  const seen = request.found === undefined ? node : (node.inputs.at(0) ?? node);
  const whole = wholeRegion(output.stream);
  const frame = Math.min(request.frame, output.stream.frames - 1);
  const own = frameBefore(output, frame, node);
  const wanted: Place = {
    x: request.region.x * whole.width,
    y: request.region.y * whole.height,
    width: request.region.width * whole.width,
    height: request.region.height * whole.height,
  };
  const region = coveringRegion(placeBetween(output, frame, node, own, wanted), node.stream);
  const goOn = (): void => {
    if (cancelled()) throw new Cancelled();
  };
  const picture = await tiledPicture(seen, own, { region, untiled: MAX_UNTILED_PIXELS, goOn });
  goOn();
  const shown = placeBetween(node, own, output, frame, region);
  const place: Place = {
    x: shown.x / whole.width,
    y: shown.y / whole.height,
    width: shown.width / whole.width,
    height: shown.height / whole.height,
  };
  const compared = request.evidence || request.figures;
  const under = async (other: Plan | undefined): Promise<Picture | undefined> =>
    other && tiledPicture(nodeOf(compile(other, source, resources), request.node), own, { region, untiled: MAX_UNTILED_PIXELS, goOn });
  const map = compared ? evidenceMap(picture, (await under(supportedPlan(plan))) ?? picture, await under(ownPlan(plan))) : undefined;
  const faults = request.found === undefined ? undefined : await foundFaults(node, own, region, goOn);
  const { pixels, width, height } = await forScreen(picture, request.fit, { evidence: request.evidence ? map : undefined, faults });
  if (!request.evidence) forSrgbScreen(pixels, request.source.probed.facts);
  return {
    ...(map && { invented: inventedShare(map) }),
    ...(faults && { found: { counts: faults.counts, share: faults.share, ...(faults.unused && { unused: faults.unused }) } }),
    ...(request.figures && { figures: figuresOf(picture) }),
    pixels,
    width,
    height,
    place,
    output: output.stream,
    milliseconds: performance.now() - start,
    steps: costsOf(request.plan, graph),
    missing: [...graph.missing],
  };
}

/** The node that is looked at; the output where it is switched off or gone. */
const nodeOf = (graph: Graph, id: string | undefined): Node => (id !== undefined && graph.node(id)) || graph.output;

/** What steps and forks took, reckoned for a whole frame. */
const costsOf = (plan: Plan, graph: Graph): ProofImage['steps'] =>
  [...allSteps(plan), ...allForks(plan)].flatMap(({ id }) => {
    const node = graph.node(id);
    return node?.id === id ? [{ id, milliseconds: costOf(node) }] : [];
  });

function figuresOf({ planes: [luma] }: Picture): ProofFigures {
  return { edges: measureBlur(luma) ?? null, noise: measureGrain(luma, false).sigma };
}

/** How many times smaller a picture is shown at the least to be much reduced. */
const MUCH = 1.5;

/** How near a whole pixel a border counts as on it: what came through maps is rounded. */
const ON_PIXEL = 1e-6;

/** Whole pixels of a stream that cover a part of it; at least one. */
export function coveringRegion(wanted: Place, info: StreamInfo): Region {
  const clampTo = (v: number, most: number): number => Math.min(most, Math.max(0, v));
  const x = clampTo(Math.floor(wanted.x + ON_PIXEL), info.width - 1),
    y = clampTo(Math.floor(wanted.y + ON_PIXEL), info.height - 1);
  const right = clampTo(Math.ceil(wanted.x + wanted.width - ON_PIXEL), info.width),
    bottom = clampTo(Math.ceil(wanted.y + wanted.height - ON_PIXEL), info.height);
  // Chroma samples stay whole.
  return growRegion({ x, y, width: Math.max(1, right - x), height: Math.max(1, bottom - y) }, 0, chromaGrid(info), info);
}

/** The picture for the screen, reduced where it is larger than asked for. */
export async function forScreen(
  picture: Picture,
  fit: { width: number; height: number },
  { evidence, faults }: { evidence?: EvidenceMap; faults?: FoundFaults },
): Promise<{ pixels: Uint8Array; width: number; height: number }> {
  const { width, height } = planeRegion(picture.info, 0, picture.region);
  // What is much reduced becomes colours at its own size: most of its pixels are not seen.
  const small =
    evidence || faults || Math.min(width / fit.width, height / fit.height) < MUCH ? undefined : areaPicture(picture, fit.width, fit.height);
  if (small) return { pixels: toScreen(small), ...fit };
  const pixels = toScreen(picture);
  if (evidence) paintEvidence(pixels, evidence);
  if (faults) paintFaults(pixels, faults, Math.max(width / fit.width, height / fit.height));
  if (width <= fit.width && height <= fit.height) return { pixels, width, height };
  const { data, info } = await sharp(pixels, { raw: { width, height, channels: 4 }, limitInputPixels: false })
    .resize(Math.min(width, fit.width), Math.min(height, fit.height), { fit: 'fill', kernel: 'cubic' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { pixels: data, width: info.width, height: info.height };
}
