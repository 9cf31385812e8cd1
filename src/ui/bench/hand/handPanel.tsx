'use client';

import { X } from 'lucide-react';
import { useState } from 'react';
import type { SettingSpec } from '../../../core';
import { ANSWERS, COLOURED, MARK_LIMITS, type StrokeMark } from '../../../shared/marks';
import { OPEN_AIR } from '../../../shared/palettes';
import type { PlanStep } from '../../../shared/plan';
import { FaceTints } from '../colour/faceTints';
import { HintColour } from '../colour/hintColour';
import { NumberField } from '../ladder/numberField';
import { FIRST_HAND, useBench, useBenchStore, type Hand } from '../state/store';
import { compareAnswers } from './answers';
import { showFrame } from './frames';
import { changeStrokes, useStrokes } from './strokes';
import { MarkColour, Swatch } from '../colour/markColour';
import { usesOf } from './uses';

const SIZE: SettingSpec = {
  ...{ key: 'size', label: 'Width', kind: 'number', unit: 'px', default: 20, step: 1 },
  ...MARK_LIMITS.size,
  help: 'Diameter in pixels of the source. The keys + and - change the brush.',
};
const SOFTNESS: SettingSpec = {
  ...{ key: 'softness', label: 'Soft edge', kind: 'number', unit: '%', min: 0, max: 100, step: 5, default: 40 },
  help: 'Share of the radius in which it fades out.',
};

/** Uses that fit beside their label, and letters of them. */
const IN_A_ROW = { uses: 3, letters: 18 };

/** Marks of a step: how they are made, and all that there are. */
export function HandPanel({ step }: { step: PlanStep }) {
  const bench = useBenchStore();
  const hand = useBench((s) => s.hand);
  const height = useBench((s) => s.description.source.height);
  const strokes = useStrokes(step.marks);
  const still = useBench((s) => s.description.source.frames === 1);
  const uses = usesOf(step.treatment);
  const wide = uses.length > IN_A_ROW.uses || uses.reduce((sum, { label }) => sum + label.length, 0) > IN_A_ROW.letters;
  const marking = hand?.owner === step.id ? hand : undefined;
  const begin = (part: Partial<Hand>): void =>
    bench.setState(({ hand: before }) => ({
      hand: {
        use: uses[0].use,
        ...FIRST_HAND,
        ...(before && { size: before.size, softness: before.softness, colour: before.colour }),
        ...marking,
        ...part,
        owner: step.id,
      },
      brush: undefined,
    }));
  return (
    <fieldset className="mb-1.5 min-w-0 border-b pb-1.5">
      <legend className="sr-only">Marks</legend>
      <div className={`flex items-center gap-x-2 ${wide ? 'flex-wrap' : ''}`}>
        <span className={`shrink-0 text-ink2 ${wide ? 'w-full' : 'w-[66px]'}`}>By hand</span>
        <div className="seg" role="group" aria-label="What is marked">
          {uses.map(({ use, label, help }) => (
            <button
              key={use}
              type="button"
              className={`whitespace-nowrap ${wide ? 'px-[7px]' : ''}`}
              title={help}
              aria-pressed={marking?.use === use}
              onClick={() => begin({ use })}
            >
              {label}
            </button>
          ))}
        </div>
      </div>
      {marking && (
        <div
          className="mt-1 grid grid-cols-[auto_1fr_auto_1fr] items-center gap-x-1.5 whitespace-nowrap"
          role="group"
          aria-label="Brush for marks"
        >
          <label htmlFor={`${step.id}-mark-size`} title={SIZE.help}>
            {SIZE.label}
          </label>
          <NumberField
            spec={SIZE}
            id={`${step.id}-mark-size`}
            value={Math.round(marking.size * height)}
            description={undefined}
            onCommit={(v) => begin({ size: v / height })}
          />
          <label htmlFor={`${step.id}-mark-soft`} title={SOFTNESS.help}>
            {SOFTNESS.label}
          </label>
          <NumberField
            spec={SOFTNESS}
            id={`${step.id}-mark-soft`}
            value={marking.softness}
            description={undefined}
            onCommit={(softness) => begin({ softness })}
          />
          <button
            type="button"
            className="quiet col-span-4 min-h-[24px] justify-self-end"
            onClick={() => bench.setState({ hand: undefined })}
          >
            Done
          </button>
        </div>
      )}
      {marking && COLOURED.includes(marking.use) && (
        <HintColour
          key={String(marking.use === 'area')}
          value={marking.colour}
          first={marking.use === 'area' ? OPEN_AIR : undefined}
          onChange={(colour) => begin({ colour })}
        />
      )}
      {step.treatment === 'colourise' && still && <FaceTints step={step} />}
      {strokes.length > 0 && (
        <ol aria-label="Marks" className="mt-1 max-h-[260px] overflow-y-auto">
          {strokes.map((mark, index) => (
            <MarkRow key={mark.id} step={step} mark={mark} index={index} />
          ))}
        </ol>
      )}
    </fieldset>
  );
}

function MarkRow({ step, mark, index }: { step: PlanStep; mark: StrokeMark; index: number }) {
  const bench = useBenchStore();
  const chosen = useBench((s) => s.chosen === mark.id);
  const words = usesOf(step.treatment).find(({ use }) => use === mark.use);
  const change = (part: Partial<StrokeMark>, what: string): void =>
    void changeStrokes(bench, step.id, { set: [{ ...mark, ...part }] }, `mark ${index + 1} ${what}`);
  return (
    <li className={chosen ? 'bg-sheet' : ''}>
      <div className="flex min-h-[26px] items-center gap-1">
        <button
          type="button"
          aria-pressed={chosen}
          className={`min-w-0 flex-1 truncate text-left ${mark.on ? 'text-ink' : 'text-ink3'}`}
          title={chosen ? 'Hide its handles' : 'Show its handles on the picture'}
          onClick={() => {
            bench.setState({ chosen: chosen ? undefined : mark.id });
            if (!chosen) showFrame(bench, mark);
          }}
        >
          {mark.colour && <Swatch colour={mark.colour} />}
          {index + 1}: {words?.name}, {Math.round(mark.size)} px{mark.from ? ', copied' : ''}
          {mark.frame !== undefined && `, frame ${mark.frame}`}
        </button>
        <button
          type="button"
          className="quiet min-h-[24px] min-w-[28px]"
          aria-pressed={mark.on}
          onClick={() => change({ on: !mark.on }, mark.on ? 'off' : 'on')}
        >
          {mark.on ? 'on' : 'off'}
        </button>
        <button
          type="button"
          className="grid h-6 w-6 shrink-0 place-items-center text-ink2 hover:text-ink"
          aria-label={`Remove mark ${index + 1}`}
          onClick={() => void changeStrokes(bench, step.id, { remove: [mark.id] }, `mark ${index + 1} removed`)}
        >
          <X size={13} aria-hidden />
        </button>
      </div>
      {chosen && <MarkDetails mark={mark} change={change} compare={() => compareAnswers(bench, step.id, mark, index)} />}
      {chosen && mark.colour && <MarkColour step={step} mark={mark} index={index} />}
    </li>
  );
}

/** Pixels that a mark's source begins away, in times its width. */
const ASIDE = 1.6;

function MarkDetails({
  mark,
  change,
  compare,
}: {
  mark: StrokeMark;
  change: (part: Partial<StrokeMark>, what: string) => void;
  /** Shows the answers beside one another. */
  compare: () => Promise<void>;
}) {
  const [opening, setOpening] = useState(false);
  return (
    <div className="grid grid-cols-[66px_1fr] items-center gap-x-2 gap-y-[3px] pb-1.5 pl-2">
      <label htmlFor={`${mark.id}-size`} className="text-ink2">
        {SIZE.label}
      </label>
      <NumberField
        spec={SIZE}
        id={`${mark.id}-size`}
        value={Math.round(mark.size)}
        description={undefined}
        onCommit={(size) => change({ size }, `${size} px`)}
      />
      <label htmlFor={`${mark.id}-soft`} className="text-ink2">
        {SOFTNESS.label}
      </label>
      <NumberField
        spec={SOFTNESS}
        id={`${mark.id}-soft`}
        value={Math.round(mark.softness * 100)}
        description={undefined}
        onCommit={(v) => change({ softness: v / 100 }, `soft edge ${v} %`)}
      />
      {(mark.use === 'heal' || mark.use === 'remove') && (
        <>
          <span className="text-ink2">Answer</span>
          <div className="seg justify-self-start" role="group" aria-label="Answer">
            {Array.from({ length: ANSWERS }, (_, answer) => (
              <button
                key={answer}
                type="button"
                title={answer === 0 ? 'What fits best' : 'Another answer, from other places around it'}
                aria-pressed={!mark.from && (mark.answer ?? 0) === answer}
                onClick={() => change({ answer, from: undefined }, `answer ${answer + 1}`)}
              >
                {answer + 1}
              </button>
            ))}
            <button
              type="button"
              title="A place of your choice: drag its ring on the picture"
              aria-pressed={mark.from !== undefined}
              onClick={() => mark.from ?? change({ from: { x: Math.round(ASIDE * mark.size), y: 0 } }, 'copied from a place')}
            >
              place
            </button>
          </div>
          <button
            type="button"
            className="quiet col-start-2 min-h-[24px] justify-self-start"
            disabled={opening}
            title="All answers beside one another, at the mark's place"
            onClick={() => {
              setOpening(true);
              void compare().finally(() => setOpening(false));
            }}
          >
            Answers side by side
          </button>
        </>
      )}
    </div>
  );
}
