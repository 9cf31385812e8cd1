import { rename, writeFile } from 'node:fs/promises';
import { wholeRegion, type Picture } from '../core/picture/picture';
import { measureFrame, tracedFrames, type FrameMeasures } from '../core/condition/traces';
import { openSource } from '../media/openSource';
import type { SourceRef } from './segment';

/** What is kept of an item's traces while they are measured and after. */
export interface KeptTraces {
  /** Frames that are measured when all is done. */
  total: number;
  measures: FrameMeasures[];
}

/** Frames measured of one item at most. */
const MAX_FRAMES = 3000;
/** Milliseconds after which what was measured so far is kept. */
const KEEP_EVERY = 1500;

/** Measures an item's traces from where they were left, and keeps them in a file as they come. */
export async function traceSource(ref: SourceRef, file: string, have: FrameMeasures[]): Promise<void> {
  const source = await openSource(ref.path, ref.key, ref.probed, ref.info);
  const numbers = tracedFrames(source.info.frames, MAX_FRAMES);
  const measures = have.filter((m, n) => m.frame === numbers[n]);
  const byLines = source.info.fieldOrder !== 'progressive';
  const keep = async (): Promise<void> => {
    const kept: KeptTraces = { total: numbers.length, measures };
    await writeFile(`${file}.new`, JSON.stringify(kept));
    await rename(`${file}.new`, file);
  };
  let last: { frame: number; picture: Picture } | undefined;
  let kept = performance.now();
  try {
    for (const n of numbers.slice(measures.length)) {
      const whole = wholeRegion(source.info);
      const before = n === 0 ? undefined : last?.frame === n - 1 ? last.picture : await source.frame(n - 1, whole);
      const picture = await source.frame(n, whole);
      measures.push(measureFrame(n, picture, before, byLines));
      last = { frame: n, picture };
      if (performance.now() - kept > KEEP_EVERY) {
        await keep();
        kept = performance.now();
      }
    }
    await keep();
  } finally {
    source.close?.();
  }
}
