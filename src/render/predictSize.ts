import { createHash } from 'node:crypto';
import { LRUCache } from 'lru-cache';
import { type Item, measuredStream } from '../archive';
import { Cancelled, codeOf, outputStream } from '../core';
import { bestQuality, drawn, exactBytes, predictedBytes, type Sample, type Samples, tilesOf, weightsOf } from '../media';
import type { StillAccess } from '../shared/jobs';
import type { Plan } from '../shared/plan';
import type { SizeAnswer } from '../shared/requests';
import { proofItem } from './proofPool';

/** Pixels of results that are made whole to tell their size. */
const WHOLE_PIXELS = 1_500_000;
/** The small copy is so much smaller in width and height, with no side below `SMALL_SIDE`. */
const SMALLER = 4,
  SMALL_SIDE = 256;

/** What was rendered of a plan's result to tell its size: all of it, or some of its tiles. */
type Rendered = { whole: Samples } | { sample: Sample };

const kept = new LRUCache<string, Promise<Rendered>>({ max: 6 });

/** What a still's access copy will take. @param under bytes that it is to stay under: the best quality that does is told. */
export async function predictSize(
  item: Item,
  plan: Plan,
  { kind, quality, under }: { kind: StillAccess; quality: number; under?: number },
  gone?: AbortSignal,
): Promise<SizeAnswer> {
  const key = createHash('sha256')
    .update(JSON.stringify([item.id, plan]))
    .digest('hex');
  const made = await renderedFor(key, gone, () => rendered(item, plan, key, gone));
  const sized = async (q: number): Promise<{ bytes: number }> => ({
    bytes: Math.round('whole' in made ? await exactBytes(made.whole, kind, q) : await predictedBytes(made.sample, kind, q)),
  });
  const best = under === undefined ? { quality, value: await sized(quality) } : await bestQuality(quality, under, sized);
  return { bytes: best.value.bytes, quality: best.quality, exact: 'whole' in made };
}

/** What was rendered already, or is being rendered; begun anew where whoever had asked for it left meanwhile. */
async function renderedFor(key: string, gone: AbortSignal | undefined, make: () => Promise<Rendered>): Promise<Rendered> {
  const known = kept.get(key);
  try {
    if (known) return await known;
  } catch (error) {
    if (codeOf(error) !== 'cancelled' || gone?.aborted) throw error;
  }
  const made = make();
  kept.set(key, made);
  made.catch(() => kept.get(key) === made && kept.delete(key));
  return made;
}

async function rendered(item: Item, plan: Plan, viewer: string, gone?: AbortSignal): Promise<Rendered> {
  const output = outputStream(plan, measuredStream(item));
  const { width, height } = output;
  let turn = 0;
  const part = async (
    place: { x: number; y: number; width: number; height: number },
    fit: { width: number; height: number },
    draft = false,
  ) => {
    const region = { x: place.x / width, y: place.y / height, width: place.width / width, height: place.height / height };
    if (gone?.aborted) throw new Cancelled();
    const proof = await proofItem(item, { plan, frame: 0, region, fit, draft, viewer: `size ${viewer}`, turn: ++turn, lane: 'side' });
    return cut(proof, place, output);
  };
  const whole = { x: 0, y: 0, width, height };
  if (width * height <= WHOLE_PIXELS) return { whole: await part(whole, { width, height }) };
  const scale = Math.max(1 / SMALLER, Math.min(1, SMALL_SIDE / Math.min(width, height)));
  const small = await part(whole, { width: Math.ceil(width * scale), height: Math.ceil(height * scale) }, true);
  const weights = await weightsOf(small, output);
  const places = tilesOf(output);
  const tiles: Sample['tiles'] = [];
  for (const [number, times] of drawn(weights)) {
    const tile = places[number];
    tiles.push({ number, times, samples: await part(tile, tile) });
  }
  return { sample: { weights, tiles } };
}

/** What was asked for out of a proof, which may show more. */
function cut(
  { pixels, width, height, place }: { pixels: Uint8Array; width: number; height: number; place: { x: number; y: number; width: number } },
  wanted: { x: number; y: number; width: number; height: number },
  output: { width: number; height: number },
): Samples {
  const scale = width / (place.width * output.width);
  if (Math.abs(scale - 1) > 1e-3) return { data: pixels, width, height, channels: 4 };
  const left = Math.round(wanted.x - place.x * output.width),
    top = Math.round(wanted.y - place.y * output.height);
  const data = new Uint8Array(4 * wanted.width * wanted.height);
  for (let y = 0; y < wanted.height; y++) {
    const from = 4 * ((y + top) * width + left);
    data.set(pixels.subarray(from, from + 4 * wanted.width), 4 * y * wanted.width);
  }
  return { data, width: wanted.width, height: wanted.height, channels: 4 };
}
