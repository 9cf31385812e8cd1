import type { Links } from './links';

/**
 * Ever coarser graphs for solving over links: places that hang together firmly become one, twice in pairs before each graph (aggregation by matching;
 * Notay, An aggregation-based algebraic multigrid method, 2010). What an edge parts stays parted, however coarse the graph.
 */

/** Places and what links them; each link is there from both its ends. */
export interface Graph {
  size: number;
  /** Where each place's links begin among all; one more than there are places. */
  starts: Int32Array;
  /** Where each link leads to, and how wide it is. */
  to: Int32Array;
  width: Float32Array;
  /** How wide the links of each place are together. */
  sum: Float32Array;
  /** The place of the coarser graph that each place is part of; empty in the coarsest. */
  part: Int32Array;
}

/** How firmly two places hang together at least to become one: their link, over what each of its ends is held by (harmonic mean). */
const FIRM = 0.25;
/** The coarsest graph has no more places than this, or as many as hang together too loosely. */
const FEW = 2;
/** Times that places become one in pairs before the next graph. */
const PAIRINGS = 2;

/** @returns graphs from the finest to the coarsest. */
export function graphsOf(links: Links): Graph[] {
  const graphs = [ofRaster(links)];
  for (;;) {
    const here = graphs[graphs.length - 1];
    if (here.size <= FEW) return graphs;
    const { next, part } = coarser(here);
    if (next.size === here.size) return graphs;
    here.part = part;
    graphs.push(next);
  }
}

/** The next graph. A pair counts as held by all that holds its places: a sweep moves them one by one, and must not be asked to move them together. */
function coarser(here: Graph): { next: Graph; part: Int32Array } {
  let next = here,
    held = here.sum,
    part: Int32Array = new Int32Array(0);
  for (let n = 0; n < PAIRINGS; n++) {
    const { pair, count } = paired(next, held);
    next = joined(next, pair, count);
    const both = new Float32Array(count);
    for (let i = 0; i < pair.length; i++) both[pair[i]] += held[i];
    held = both;
    if (n === 0) part = pair;
    else for (let i = 0; i < part.length; i++) part[i] = pair[part[i]];
  }
  return { next, part };
}

function ofRaster({ width, height, across, down }: Links): Graph {
  const size = width * height;
  const starts = new Int32Array(size + 1),
    to = new Int32Array(4 * size),
    widths = new Float32Array(4 * size);
  let n = 0;
  const link = (place: number, wide: number): void => {
    if (wide <= 0) return;
    to[n] = place;
    widths[n++] = wide;
  };
  for (let i = 0; i < size; i++) {
    if (i >= width) link(i - width, down[i - width]);
    if (i % width) link(i - 1, across[i - 1]);
    link(i + 1, across[i]);
    link(i + width, down[i]);
    starts[i + 1] = n;
  }
  return graph(size, starts, to.slice(0, n), widths.slice(0, n));
}

function graph(size: number, starts: Int32Array, to: Int32Array, width: Float32Array): Graph {
  const sum = new Float32Array(size);
  for (let i = 0, n = 0; i < size; i++) {
    let held = 0;
    for (const end = starts[i + 1]; n < end; n++) held = Math.fround(held + width[n]);
    sum[i] = held;
  }
  return { size, starts, to, width, sum, part: new Int32Array(0) };
}

/**
 * @param held by how much each place is.
 * @returns for each place the number of its pair, and how many there are; those that hang together with none stay alone.
 */
function paired({ size, starts, to, width }: Graph, held: Float32Array): { pair: Int32Array; count: number } {
  const pair = new Int32Array(size).fill(-1);
  let count = 0;
  for (let i = 0; i < size; i++) {
    if (pair[i] >= 0) continue;
    let most = FIRM,
      partner = -1;
    const own = 1 / held[i],
      end = starts[i + 1];
    for (let n = starts[i]; n < end; n++) {
      const j = to[n];
      if (pair[j] >= 0) continue;
      const firm = width[n] * (own + 1 / held[j]);
      if (firm > most) [most, partner] = [firm, j];
    }
    if (partner >= 0) pair[partner] = count;
    pair[i] = count++;
  }
  return { pair, count };
}

/** The graph of what `part` makes of places: links between the same two parts are added up. */
function joined({ size, starts, to, width }: Graph, part: Int32Array, parts: number): Graph {
  // Places by their part.
  const first = new Int32Array(parts + 1);
  for (let i = 0; i < size; i++) first[part[i] + 1]++;
  for (let p = 0; p < parts; p++) first[p + 1] += first[p];
  const members = new Int32Array(size),
    filled = first.slice();
  for (let i = 0; i < size; i++) members[filled[part[i]]++] = i;
  const made = { starts: new Int32Array(parts + 1), to: new Int32Array(to.length), width: new Float32Array(to.length) };
  // Where a part's link to another lies, from its own first one.
  const lies = new Int32Array(parts).fill(-1);
  let n = 0;
  for (let p = 0; p < parts; p++) {
    const from = n;
    for (let m = first[p]; m < first[p + 1]; m++)
      for (let k = starts[members[m]], end = starts[members[m] + 1]; k < end; k++) {
        const other = part[to[k]];
        if (other === p) continue;
        if (lies[other] < from) {
          lies[other] = n;
          made.to[n] = other;
          made.width[n++] = 0;
        }
        made.width[lies[other]] += width[k];
      }
    made.starts[p + 1] = n;
  }
  return graph(parts, made.starts, made.to.slice(0, n), made.width.slice(0, n));
}
