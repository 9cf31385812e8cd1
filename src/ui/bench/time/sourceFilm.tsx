'use client';

import { useEffect, useRef } from 'react';
import { invertPlace, placeOf } from '../../../shared/maps/place';
import { framesShowing, sourceFrame } from '../../../shared/maps/time';
import type { Placement } from '../picture/geometry';
import { useBench, useBenchStore } from '../state/store';

/** The source played at its own speed with its sound, over the place it has in the picture. Where it is stopped, the bench goes on. */
export function SourceFilm({ at }: { at: Placement }) {
  const watching = useBench((s) => s.watching);
  return watching ? <Film at={at} /> : null;
}

function Film({ at }: { at: Placement }) {
  const bench = useBenchStore();
  const video = useRef<HTMLVideoElement>(null);
  const item = useBench((s) => s.item);
  const { geometry, output, source } = useBench((s) => s.description);
  const box = placeOf(invertPlace(geometry), { x: 0, y: 0, width: source.width, height: source.height });
  useEffect(() => {
    const element = video.current as HTMLVideoElement;
    const { description, frame } = bench.getState();
    const rate = source.rate.num / source.rate.den;
    const from = sourceFrame(description.time, frame) / rate;
    element.src = `/api/items/${item.id}/film?from=${from.toFixed(4)}`;
    void element.play().catch((error: Error) => {
      // Taken away before it began.
      if (error.name !== 'AbortError') bench.setState({ watching: false, problem: `The source cannot be played here: ${error.message}` });
    });
    return () => {
      const seen = Math.min(source.frames - 1, Math.floor((from + element.currentTime) * rate + 1e-6));
      const shown = framesShowing(description.time, seen, seen);
      if (shown && element.currentTime > 0) bench.setState({ frame: shown.first });
      element.removeAttribute('src');
      element.load();
    };
  }, [bench, item, source]);
  return (
    <video
      ref={video}
      data-testid="source-film"
      aria-label="The source, playing"
      className="pointer-events-none absolute bg-black object-fill"
      style={{
        left: at.x + (box.x / output.width) * at.width,
        top: at.y + (box.y / output.height) * at.height,
        width: (box.width / output.width) * at.width,
        height: (box.height / output.height) * at.height,
      }}
      onEnded={() => bench.setState({ watching: false })}
    />
  );
}
