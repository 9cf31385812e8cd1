'use client';

import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { AlikeAnswer } from '../../../archive';
import type { StrokeMark } from '../../../shared/marks';
import type { PlanStep } from '../../../shared/plan';
import { api } from '../../parts/api';
import { changeStrokes, useStrokes } from '../hand/strokes';
import { showFrame } from '../hand/frames';
import { useBench, useBenchStore } from '../state/store';
import { placeWords } from './placeWords';

/** Milliseconds between two looks at whether the film is measured. */
const AGAIN_MS = 1500;

function wordsFor(answer: AlikeAnswer | undefined, places: number): string {
  if (!answer) return 'other shots are looked through';
  if (!answer.measured) return 'the film’s shots are still being measured';
  return places > 0 ? 'In other shots, the likest first' : 'in no other shot, or marked there';
}

/** Places in other shots of the film that look like what a mark is on: found on request, offered one by one or all at once. */
export function OtherShots({ step, mark, index }: { step: PlanStep; mark: StrokeMark; index: number }) {
  const bench = useBenchStore();
  const item = useBench((s) => s.item.id);
  const source = useBench((s) => s.description.source);
  const strokes = useStrokes(step.marks);
  const [asked, setAsked] = useState(false);
  const { data, error } = useQuery({
    queryKey: ['alike', item, mark.id, mark.frame, mark.points],
    queryFn: () => api<AlikeAnswer>(`items/${item}/alike?list=${step.marks}&mark=${mark.id}`),
    enabled: asked,
    refetchInterval: ({ state }) => (state.data?.measured === false ? AGAIN_MS : false),
  });
  const marked = (frame: number): boolean => strokes.some((one) => one.frame === frame && one.colour === mark.colour);
  const places = (data?.places ?? []).filter(({ frame }) => !marked(frame));
  const add = (chosen: typeof places): void => {
    const set = chosen.map(({ frame, x, y }): StrokeMark => ({ ...mark, id: crypto.randomUUID(), frame, points: [{ x, y }] }));
    void changeStrokes(bench, step.id, { set }, `mark ${index + 1} in ${set.length === 1 ? 'another shot' : `${set.length} other shots`}`);
  };
  if (!asked)
    return (
      <button
        type="button"
        className="quiet min-h-[24px]"
        title="Looks for the same thing in the film's other shots"
        onClick={() => setAsked(true)}
      >
        Look in other shots
      </button>
    );
  return (
    <div className="w-full" role="group" aria-label="The same in other shots">
      <p className="text-ink2" role="status">
        {error?.message ?? wordsFor(data, places.length)}
      </p>
      <ul className="max-h-[120px] overflow-y-auto">
        {places.map((place) => (
          <li key={place.frame} className="flex min-h-[24px] items-center gap-2">
            <button
              type="button"
              className="min-w-0 flex-1 truncate text-left hover:underline"
              title="Shows the frame"
              onClick={() => showFrame(bench, place)}
            >
              frame {place.frame}, {placeWords(place.x / source.width, place.y / source.height)}
            </button>
            <button
              type="button"
              className="quiet min-h-[24px]"
              aria-label={`Mark it on frame ${place.frame}`}
              onClick={() => add([place])}
            >
              Mark it
            </button>
          </li>
        ))}
      </ul>
      {places.length > 1 && (
        <button type="button" className="quiet min-h-[24px]" onClick={() => add(places)}>
          Mark all {places.length}
        </button>
      )}
    </div>
  );
}
