import { describe, expect, it } from 'vitest';
import { wholeRegion, type Picture } from '../picture/picture';
import { picture, streamInfo } from '../testing/pictures';
import { graphOver, planOf, runOver, stepNodes, type Step } from '../testing/plans';
import type { Node } from './node';

describe('a masked step', () => {
  const info = streamInfo({ width: 160, height: 120, frames: 5 });
  const frames = Array.from({ length: info.frames }, (_, n) => picture(info, n));
  const run = (...steps: Step[]): Node => runOver(info, (n) => frames[n], ...steps);
  const right = { parts: [{ shape: { kind: 'box', x: 0.5, y: 0, width: 0.5, height: 1 } }] };
  const changed = (a: Picture, b: Picture, from: number, to: number): number => {
    let most = 0;
    for (const [index, plane] of a.planes.entries()) {
      const shift = index ? 1 : 0;
      for (let i = 0; i < plane.data.length; i++) {
        const x = (i % plane.width) << shift;
        if (x >= from && x < to) most = Math.max(most, Math.abs(plane.data[i] - b.planes[index].data[i]));
      }
    }
    return most;
  };

  it.each([
    ['grain', { luma: 20, chroma: 20, keep: 0 }, 300],
    ['grain', { quality: 'best', luma: 20, chroma: 20, keep: 0, neighbours: 0 }, 300],
    ['grain', { quality: 'best', luma: 20, chroma: 20, keep: 0 }, 300],
    ['focus', { quality: 'best', blur: 1.2 }, 300],
    ['regrain', {}, 300],
  ])('%s %o leaves what is outside as it was, and works inside', async (treatment, settings, least) => {
    const made = await run([treatment, settings, right]).frame(2, wholeRegion(info));
    expect(changed(made, frames[2], 0, 76)).toBe(0);
    expect(changed(made, frames[2], 88, 160)).toBeGreaterThan(least);
  });

  it('steers its own part of one pass of the network with others', async () => {
    const both = planOf(
      ['grain', { quality: 'best', luma: 20, chroma: 0, keep: 0, neighbours: 0 }, right],
      ['focus', { quality: 'best', blur: 1.2 }, { ...right, inverse: true }],
    );
    const graph = graphOver(info, (n) => frames[n], both);
    const made = await graph.output.frame(2, wholeRegion(info));
    expect(stepNodes(graph, both).map((node) => node.spent.frames)).toEqual([0, 1]);
    const alone = await run(['focus', { quality: 'best', blur: 1.2 }]).frame(2, wholeRegion(info));
    // Far from the border between them the left half is what Focus makes by itself.
    expect(changed(made, alone, 0, 24)).toBeLessThan(300);
    expect(changed(made, alone, 110, 160)).toBeGreaterThan(300);
  });
});
