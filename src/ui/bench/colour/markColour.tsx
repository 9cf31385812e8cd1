'use client';

import type { StrokeMark } from '../../../shared/marks';
import type { PlanStep } from '../../../shared/plan';
import { changeStrokes, useStrokes } from '../hand/strokes';
import { useBench, useBenchStore } from '../state/store';
import { isOn, seenFrame } from '../hand/frames';
import { useState } from 'react';
import { ColourWell, cssColour, HintColour } from './hintColour';
import { OtherShots } from './otherShots';

export function Swatch({ colour }: { colour: string }) {
  return (
    <span
      className="mr-1.5 inline-block h-[10px] w-[14px] border border-[var(--rule-2)]"
      style={{ background: cssColour(colour) }}
      aria-hidden
    />
  );
}

/** Widths of a mark by which its copy lies beside it. */
const ASIDE = 1.5;

/** The colour of a mark, alone or with all that have the same; and a copy of the mark, to be dragged to where the same thing is. */
export function MarkColour({ step, mark, index }: { step: PlanStep; mark: StrokeMark; index: number }) {
  const bench = useBenchStore();
  const strokes = useStrokes(step.marks);
  const alike = strokes.filter(({ colour }) => colour === mark.colour);
  const [together, setTogether] = useState(false);
  const [palettes, setPalettes] = useState(false);
  const recolour = (colour: string): void => {
    const set = (together ? alike : [mark]).map((one) => ({ ...one, colour }));
    void changeStrokes(bench, step.id, { set }, `colour of ${set.length === 1 ? `mark ${index + 1}` : `${set.length} marks`}`);
  };
  const seen = useBench(seenFrame);
  const add = (part: Partial<StrokeMark>, words: string): void => {
    const made = { ...mark, ...part, id: crypto.randomUUID() };
    void changeStrokes(bench, step.id, { set: [made] }, `mark ${index + 1} ${words}`).then(() => bench.setState({ chosen: made.id }));
  };
  const copy = (): void => add({ points: mark.points.map(({ x, y }) => ({ x: x + ASIDE * mark.size, y })) }, 'copied');
  return (
    <div className="pb-1.5 pl-2">
      {palettes ? (
        <HintColour value={mark.colour ?? ''} onChange={recolour} />
      ) : (
        <div className="grid grid-cols-[66px_1fr] items-center gap-x-2">
          <ColourWell id={`${mark.id}-colour`} value={mark.colour ?? ''} onChange={recolour} />
        </div>
      )}
      <div className="mt-1 flex flex-wrap items-center gap-x-3">
        <button type="button" className="quiet min-h-[24px]" aria-pressed={palettes} onClick={() => setPalettes(!palettes)}>
          Palettes
        </button>
        <button
          type="button"
          className="quiet min-h-[24px]"
          title="A mark like it beside it, to be dragged where the same thing is"
          onClick={copy}
        >
          Copy it
        </button>
        {!isOn(mark, seen) && (
          <button
            type="button"
            className="quiet min-h-[24px]"
            title="A mark of the same colour on the frame in view, to be dragged where the same thing is now"
            onClick={() => add({ frame: seen }, `copied to frame ${seen}`)}
          >
            Copy to frame {seen}
          </button>
        )}
        {mark.frame !== undefined && <OtherShots key={mark.id} step={step} mark={mark} index={index} />}
        {alike.length > 1 && (
          <label className="flex min-h-[24px] items-center gap-1.5">
            <input type="checkbox" checked={together} onChange={(e) => setTogether(e.target.checked)} />
            all {alike.length} of this colour
          </label>
        )}
      </div>
    </div>
  );
}
