'use client';

import { useEffect, useRef, useState } from 'react';
import { displayWidth } from '../../../shared/display';
import { fetchProof, type Proof } from '../../parts/api';
import { nextTurn, viewerName, SOURCE_NODE } from '../picture/layers';
import { useBench, useBenchStore, type Bench } from '../state/store';

/** Height of the row, pixels, and the pictures in it at most. */
const HEIGHT = 34,
  MAX_THUMBNAILS = 24;

/** Small pictures of the source along the ruler, one after the other. */
export function Thumbnails({ width }: { width: number }) {
  const bench = useBenchStore();
  const { frames, rate } = useBench((s) => s.output);
  const shape = useBench((s) => displayWidth(s.output) / s.output.height);
  const each = Math.max(24, Math.round(HEIGHT * shape));
  const count = width > 0 ? Math.max(1, Math.min(MAX_THUMBNAILS, Math.floor(width / each))) : 0;
  const [pictures, setPictures] = useState<Record<number, Proof>>({});
  useEffect(() => {
    if (count === 0) return;
    const controller = new AbortController();
    const turn = nextTurn();
    const work = async (): Promise<void> => {
      for (let n = 0; n < count; n++) {
        await untilCalm(bench, controller.signal);
        const { plan, item } = bench.getState();
        const region = { x: 0, y: 0, width: 1, height: 1 };
        const frame = Math.min(frames - 1, Math.floor(((n + 0.5) / count) * frames));
        const fit = { width: 2 * each, height: 2 * HEIGHT };
        const query = { plan, frame, region, node: SOURCE_NODE, fit, viewer: viewerName('thumbnails'), turn, lane: 'side' as const };
        const answer = await fetchProof(item.id, query, controller.signal);
        if (controller.signal.aborted) return;
        if (answer) setPictures((old) => ({ ...old, [n]: answer }));
      }
    };
    // What cannot be shown small is said by the picture in the middle.
    void work().catch(() => undefined);
    return () => controller.abort();
    // The source's pictures stay as they are whatever the plan does; another length or rate asks for others.
  }, [bench, count, each, frames, rate.num, rate.den]);
  return (
    <div
      className="pointer-events-none relative flex shrink-0 justify-around overflow-hidden border-b"
      style={{ height: HEIGHT }}
      aria-hidden
    >
      {Array.from({ length: count }, (_, n) => (
        <Thumbnail key={n} answer={pictures[n]} width={each} />
      ))}
    </div>
  );
}

/** Waits until the picture in the middle is there. */
function untilCalm(bench: Bench, signal: AbortSignal): Promise<void> {
  return new Promise((resolve) => {
    const calm = (): boolean => signal.aborted || !bench.getState().waiting;
    if (calm()) return resolve();
    const stop = bench.subscribe(() => {
      if (!calm()) return;
      stop();
      resolve();
    });
    signal.addEventListener('abort', () => (stop(), resolve()), { once: true });
  });
}

function Thumbnail({ answer, width }: { answer: Proof | undefined; width: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current;
    const context = element?.getContext('2d');
    if (!element || !context || !answer) return;
    context.imageSmoothingQuality = 'high';
    context.drawImage(answer.bitmap, 0, 0, element.width, element.height);
  }, [answer, width]);
  return <canvas ref={canvas} width={Math.round(2 * width)} height={2 * HEIGHT} className="h-full bg-paper2" style={{ width }} />;
}
