import { LRUCache } from 'lru-cache';
import {
  Cancelled,
  coarsePlan,
  compile,
  cutPicture,
  type FrameSource,
  outputStream,
  type Picture,
  PictureCache,
  reducedPicture,
  tiledPicture,
  wholeRegion,
} from '../core';
import { forSrgbScreen } from '../media';
import { coveringRegion, forScreen, type ProofImage, type ProofRequest, sourceOf } from './proof';
import { resourcesOf } from './resources';

/** Reduced sources kept: those of the items that were looked at last. */
const KEPT = 3;
const kept = new LRUCache<string, Promise<Picture>>({ max: KEPT });
const cache = new PictureCache(0);

/**
 * A first look at a still's result where the screen shows it much reduced: the plan is worked on a reduced source, without what is not seen at that
 * size. The proof follows.
 *
 * @returns undefined where there is no such look, or it would be no sooner.
 */
export async function coarseProof(request: ProofRequest): Promise<ProofImage | undefined> {
  const start = performance.now();
  const { region, fit, turn } = request;
  const stopped = (): boolean => turn !== undefined && Atomics.load(new Int32Array(turn.shared), 0) !== turn.number;
  if (stopped()) throw new Cancelled();
  const source = await sourceOf(request.source);
  const { info } = source;
  const by = Math.floor(Math.min((info.width * region.width) / fit.width, (info.height * region.height) / fit.height));
  const plan = info.frames === 1 && by >= 2 ? coarsePlan(request.plan, by) : undefined;
  if (!plan) return undefined;
  const small = await reducedSource(source, by);
  const { output } = compile(plan, small, { cache, cancelled: stopped, picture: resourcesOf(request.source).picture });
  const { width: w, height: h } = output.stream;
  const part = coveringRegion({ x: region.x * w, y: region.y * h, width: region.width * w, height: region.height * h }, output.stream);
  const picture = await tiledPicture(output, 0, { region: part });
  if (stopped()) throw new Cancelled();
  const { pixels, width, height } = await forScreen(picture, fit, {});
  forSrgbScreen(pixels, request.source.probed.facts);
  return {
    ...{ pixels, width, height, output: outputStream(request.plan, info) },
    place: { x: part.x / w, y: part.y / h, width: part.width / w, height: part.height / h },
    milliseconds: performance.now() - start,
    steps: [],
    missing: [],
  };
}

async function reducedSource(source: FrameSource, by: number): Promise<FrameSource> {
  const name = `${source.key}/${by}`;
  const known = kept.get(name) ?? source.frame(0, wholeRegion(source.info)).then((picture) => reducedPicture(picture, by));
  kept.set(name, known);
  known.catch(() => kept.delete(name));
  const whole = await known;
  return { info: whole.info, key: name, frame: (_, region) => Promise.resolve(cutPicture(whole, region)) };
}
