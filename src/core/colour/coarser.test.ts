import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Graph, graphsOf } from './coarser';
import { type Links, linksOf } from './links';

/** Links by their ends. */
const matrix = ({ size, starts, to, width }: Graph): number[][] => {
  const rows = Array.from({ length: size }, () => new Array<number>(size).fill(0));
  for (let i = 0; i < size; i++) for (let n = starts[i]; n < starts[i + 1]; n++) rows[i][to[n]] += width[n];
  return rows;
};

const ofLuma = (width: number, height: number, at: (x: number, y: number) => number): Links =>
  linksOf(
    Uint8Array.from({ length: width * height }, (_, i) => at(i % width, Math.floor(i / width))),
    width,
    height,
  );

describe('coarser graphs', () => {
  it('have the links of all that became one, from both ends', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 12 }), fc.integer({ min: 2, max: 12 }), fc.integer(), (width, height, seed) => {
        const graphs = graphsOf(ofLuma(width, height, (x, y) => (Math.imul(31 * y + x + seed, 2654435761) >>> 24) & 255));
        for (let n = 0; n + 1 < graphs.length; n++) {
          const { part } = graphs[n];
          const fine = matrix(graphs[n]),
            coarse = matrix(graphs[n + 1]);
          const sums = coarse.map((row) => row.map(() => 0));
          fine.forEach((row, i) => row.forEach((v, j) => part[i] !== part[j] && (sums[part[i]][part[j]] += v)));
          coarse.forEach((row, p) =>
            row.forEach((v, q) => {
              expect(v).toBeCloseTo(sums[p][q], 4);
              expect(v).toBeCloseTo(coarse[q][p], 4);
            }),
          );
        }
      }),
      { numRuns: 30 },
    );
  });

  it('take about four places for one, and keep apart what an edge parts', () => {
    const width = 96,
      height = 64;
    const graphs = graphsOf(ofLuma(width, height, (x) => (x < 48 ? 60 : 180)));
    expect(graphs[1].size).toBeLessThan(0.3 * graphs[0].size);
    expect(graphs[2].size).toBeLessThan(0.5 * graphs[1].size);
    // By the graph of some forty places, none lies on both sides.
    let part = Int32Array.from({ length: width * height }, (_, i) => i);
    for (const graph of graphs) {
      if (graph.size <= 40) break;
      part = part.map((p) => graph.part[p]);
    }
    const left = new Set(part.filter((_, i) => i % width < 45)),
      right = new Set(part.filter((_, i) => i % width >= 51));
    expect([...left].filter((p) => right.has(p))).toEqual([]);
  });
});
