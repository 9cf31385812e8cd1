'use client';

import { X } from 'lucide-react';
import { Slider } from 'radix-ui';
import type { KeyboardEvent, ReactNode } from 'react';
import type { PlanStep } from '../../../shared/plan';
import { showFrame } from '../hand/frames';
import { setZoom } from '../state/keys';
import { changeSetting, previewSetting } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';
import { faceInOutput, type ListedFace, withAmount } from './faceActions';
import { FaceCrop } from './faceCrop';
import { FacePictures } from './facePictures';
import { FaceReferenceRow } from './faceReferenceRow';
import { referencesOf, textOf, withReferences, withUse } from './referenceActions';
import { useListedFaces } from './useListedFaces';

/** All faces of a step, before and after, the smallest first, and how much each gets. */
export function FacesField({ step, settingKey, value }: { step: PlanStep; settingKey: string; value: string }) {
  const bench = useBenchStore();
  const picking = useBench((s) => (s.picking?.owner === step.id && s.picking.key === settingKey ? s.picking : undefined));
  const { faces, words } = useListedFaces(value);
  const references = textOf(step.settings.references);
  const refer = (text: string): void => changeSetting(bench, step.id, 'references', text);
  const film = useBench((s) => s.item.kind !== 'still');
  const set = (face: ListedFace, amount: number | undefined, done: boolean): void =>
    (done ? changeSetting : previewSetting)(bench, step.id, settingKey, withAmount(value, face, amount));
  return (
    <fieldset className="col-span-3 min-w-0 border-t pt-1.5">
      <legend className="sr-only">Each face</legend>
      <div className="mb-1 flex items-center justify-between gap-2">
        <span className="text-ink2">{words || `${faces.length} ${faces.length === 1 ? 'face' : 'faces'}, smallest first`}</span>
        {!film && (
          <button
            type="button"
            className="btn"
            aria-pressed={picking !== undefined}
            title="Click on both eyes of a face that was not found, or that lies wrongly: they place it, turn it and say how large it is"
            onClick={() =>
              bench.setState({
                picking: picking ? undefined : { owner: step.id, key: settingKey, face: true },
                ...{ hand: undefined, brush: undefined, lining: undefined },
              })
            }
          >
            {picking ? (picking.eye ? 'and on the other' : 'click on an eye') : 'Place one'}
          </button>
        )}
      </div>
      <ul className="max-h-[312px] overflow-y-auto" aria-label="Faces before and after">
        {faces.map((face, n) => (
          <FaceRow
            key={`${face.box.x},${face.box.y},${face.along?.best}`}
            {...{ face, step }}
            number={n + 1}
            onChange={(amount, done) => set(face, amount, done)}
          >
            {face.said?.width === undefined && (
              <FaceReferenceRow
                {...{ face, step }}
                name={`face ${n + 1}`}
                pictures={referencesOf(references, face)}
                onUse={(picture, use) => refer(withUse(references, face, picture, use))}
                onAdd={(pictures) =>
                  refer(
                    withReferences(references, face, [
                      ...referencesOf(references, face).filter(({ picture }) => !pictures.includes(picture)),
                      ...pictures.map((picture) => ({ picture, use: 'kept' as const })),
                    ]),
                  )
                }
              />
            )}
          </FaceRow>
        ))}
      </ul>
    </fieldset>
  );
}

/** A face, and how much it gets. The arrows up and down go from face to face, left and right change the amount. */
function FaceRow({
  face,
  step,
  number,
  onChange,
  children,
}: {
  face: ListedFace;
  step: PlanStep;
  number: number;
  children: ReactNode;
  onChange: (amount: number | undefined, done: boolean) => void;
}) {
  const bench = useBenchStore();
  const look = (): void => {
    const at = faceInOutput(bench.getState(), face, 0);
    if (!at) return;
    if (face.along) showFrame(bench, { frame: face.along.best });
    bench.setState({ loupe: { u: at.x + at.width / 2, v: at.y + at.height / 2 }, view: { zoom: 'fit', u: 0.5, v: 0.5 } });
    setZoom(bench, 2);
  };
  const keys = (event: KeyboardEvent<HTMLElement>): void => {
    if (event.key !== 'ArrowUp' && event.key !== 'ArrowDown') return;
    event.preventDefault();
    event.stopPropagation();
    const row = event.currentTarget;
    const next = event.key === 'ArrowUp' ? row.previousElementSibling : row.nextElementSibling;
    next?.querySelector<HTMLElement>('[role=slider]')?.focus();
    next?.scrollIntoView({ block: 'nearest' });
  };
  const name = `Face ${number}, ${face.pixels} px wide${face.along ? `, frames ${face.along.first} to ${face.along.last}` : ''}`;
  return (
    <li className="flex items-center gap-2 border-b py-1" onKeyDownCapture={keys}>
      <button
        type="button"
        className="flex shrink-0 gap-[2px]"
        title={`${name}: look at it at 200 %`}
        aria-label={`Look at ${name}`}
        onClick={look}
      >
        <FacePictures face={face} step={step} />
      </button>
      <span className="min-w-0 flex-1">
        <span className="flex items-center justify-between text-ink2 tabular-nums">
          <span>{face.pixels} px</span>
          {!face.along && <FaceCrop face={face} name={`face ${number}`} />}
          <span className={face.amount === 100 ? '' : 'font-semibold text-ink'}>{face.amount} %</span>
        </span>
        {face.along && (
          <span className="block text-ink2 tabular-nums">
            frames {face.along.first}–{face.along.last}
          </span>
        )}
        <Slider.Root
          className="relative flex h-5 touch-none items-center"
          min={0}
          max={100}
          step={5}
          value={[face.amount]}
          onValueChange={([v]) => onChange(v, false)}
          onValueCommit={([v]) => onChange(v, true)}
        >
          <Slider.Track className="relative h-[2px] grow bg-rule2">
            <Slider.Range className="absolute h-[2px] bg-act" />
          </Slider.Track>
          <Slider.Thumb className="block h-[13px] w-[6px] bg-act" aria-label={`${name}, amount`} />
        </Slider.Root>
        {children}
      </span>
      {face.said?.width !== undefined && (
        <button
          type="button"
          className="grid h-6 w-6 shrink-0 place-items-center text-ink2 hover:text-ink"
          aria-label={`Remove ${name}`}
          title="It was added by hand"
          onClick={() => onChange(undefined, true)}
        >
          <X size={13} aria-hidden />
        </button>
      )}
    </li>
  );
}
