import type { Item } from '../../archive';
import { api } from '../parts/api';

/** Items that were asked to be ready, and when. */
const readied = new Map<string, number>();

/** Milliseconds one dwells on an item before it is opened ahead, and after which it may be anew. */
const DWELL_MS = 80,
  AGAIN_MS = 60_000;
/** Largest picture that is decoded for nobody yet, in pixels. */
const MAX_PIXELS = 40e6;

let timer: ReturnType<typeof setTimeout> | undefined;

/** Has an item ready that one is about to open; undefined when one has moved on. */
export function openSoon(item: Item | undefined): void {
  clearTimeout(timer);
  if (!item) return;
  timer = setTimeout(() => openAhead(item), DWELL_MS);
}

function openAhead({ id, state, facts: { stream } }: Item): void {
  const last = readied.get(id);
  if (state !== 'ready' || stream.width * stream.height > MAX_PIXELS || (last !== undefined && performance.now() - last < AGAIN_MS)) return;
  readied.set(id, performance.now());
  void api(`items/${id}/ahead`, { method: 'POST' }).catch(() => readied.delete(id));
}
