'use client';

import { useState } from 'react';
import type { Strip } from '../../../archive';
import { MAX_CANDIDATES, MIN_CANDIDATES } from '../../../shared/strips';
import { allSteps, stepOf, type PlanStep } from '../../../shared/plan';
import type { SettingSpec } from '../../../core';
import { api } from '../../parts/api';
import { Sheet, SheetButtons } from '../../parts/ask';
import { loupePart } from '../picture/geometry';
import { infoOf, useBench, useBenchStore } from '../state/store';
import { bySetting, byTreatment, rangeAround, spread, typedValues, type Draft } from './strips';
import type { StripRequest } from '../../../shared/requests';
import type { Place } from '../../../shared/maps/place';

/** Asks which step is tried in which ways, and makes the strip. */
export function StripDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <Sheet title="Test strip" open={open} onOpenChange={onOpenChange}>
      <StripForm close={() => onOpenChange(false)} />
    </Sheet>
  );
}

/** Kinds of settings whose values can be listed: what is picked or drawn on the picture cannot. */
const LISTED: SettingSpec['kind'][] = ['number', 'choice', 'flag'];

/** What can differ besides a setting. */
const TREATMENT = '(treatment)';

function StripForm({ close }: { close: () => void }) {
  const bench = useBenchStore();
  const plan = useBench((s) => s.plan);
  const opened = useBench((s) => s.opened);
  const item = useBench((s) => s.item);
  const state = bench.getState();
  const steps = allSteps(plan);
  // What is open, else the first that works on the picture in place: how much of it is what one tries.
  const first = stepOf(plan, opened) ?? steps.find((s) => s.on && infoOf(state, s).masks) ?? steps[0];
  const [stepId, setStepId] = useState<string | undefined>(first?.id);
  const step = stepOf(plan, stepId);
  const [key, setKey] = useState<string>();
  const [drafts, setDrafts] = useState<Draft[]>([]);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState('');
  if (!step) return <p>The plan has no step to try.</p>;
  const info = infoOf(state, step);
  const settings = info.settings.filter(
    (s) => LISTED.includes(s.kind) && (!s.when || s.when.is.includes(String(step.settings[s.when.key]))),
  );
  const chosen = key ?? settings.find((s) => s.kind === 'number')?.key ?? settings[0]?.key ?? TREATMENT;
  const spec = settings.find((s) => s.key === chosen);
  const ready = drafts.length >= MIN_CANDIDATES;
  const make = async (): Promise<void> => {
    setBusy(true);
    const { output, loupe, frame } = bench.getState();
    try {
      const strip = await api<Strip>(`items/${item.id}/strips`, {
        method: 'POST',
        json: {
          plan,
          step: step.id,
          about: `${info.name}: ${spec?.label ?? 'treatment'}`,
          frame,
          region: aroundLoupe(loupePart(output, loupe.u, loupe.v)),
          candidates: drafts,
        } satisfies StripRequest,
      });
      bench.setState({ strip });
      close();
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void make();
      }}
    >
      <p className="mb-3 text-ink2">The same piece of the picture, round the loupe, under two to four ways of one step.</p>
      <div className="grid grid-cols-[110px_1fr] items-center gap-x-3 gap-y-2">
        <label htmlFor="strip-step">Step</label>
        <select id="strip-step" className="field" value={step.id} onChange={(e) => (setStepId(e.target.value), setKey(undefined))}>
          {steps.map((s, n) => (
            <option key={s.id} value={s.id}>
              {n + 1}. {infoOf(state, s).name}
            </option>
          ))}
        </select>
        <label htmlFor="strip-key">What differs</label>
        <select id="strip-key" className="field" value={chosen} onChange={(e) => setKey(e.target.value)}>
          {settings.map((s) => (
            <option key={s.key} value={s.key}>
              {s.label}
            </option>
          ))}
          <option value={TREATMENT}>the treatment itself</option>
        </select>
        {spec?.kind === 'number' ? (
          <NumberWays key={`${step.id} ${spec.key}`} step={step} spec={spec} set={setDrafts} />
        ) : (
          <NamedWays key={`${step.id} ${chosen}`} step={step} spec={spec} set={setDrafts} />
        )}
      </div>
      <ul aria-label="Candidates" className="mt-3 flex min-h-[28px] flex-wrap gap-2 border-t pt-2">
        {drafts.map((d) => (
          <li key={d.label} className="border px-2">
            {d.label}
          </li>
        ))}
        {!ready && <li className="text-ink2">{drafts.length === 1 ? 'One more at least.' : 'None yet.'}</li>}
      </ul>
      {problem && (
        <p role="alert" className="mt-2 text-warn">
          {problem}
        </p>
      )}
      <SheetButtons cancel={close} submit="Make the strip" disabled={!ready || busy} />
    </form>
  );
}

/** The piece a strip shows: some times the loupe's sides, in the shape of a pane, inside the picture. */
function aroundLoupe(loupe: Place): Place {
  const width = Math.min(1, 4.8 * loupe.width),
    height = Math.min(1, 3 * loupe.height);
  const held = (v: number, most: number): number => Math.min(most, Math.max(0, v));
  return {
    x: held(loupe.x + (loupe.width - width) / 2, 1 - width),
    y: held(loupe.y + (loupe.height - height) / 2, 1 - height),
    width,
    height,
  };
}

/** Values of a number: typed, or spread evenly. */
function NumberWays({ step, spec, set }: { step: PlanStep; spec: SettingSpec; set: (drafts: Draft[]) => void }) {
  const [{ from, to }] = useState(() => rangeAround(Number(step.settings[spec.key]), spec));
  const [ends, setEnds] = useState({ from: String(from), to: String(to), count: 4 });
  const [text, setText] = useState('');
  const write = (written: string): void => {
    setText(written);
    set(bySetting(step, spec, typedValues(written, spec)));
  };
  const evenly = (): void => write(spread(Number(ends.from), Number(ends.to), ends.count, spec).join(', '));
  return (
    <>
      <label htmlFor="strip-values">Values</label>
      <input
        id="strip-values"
        className="field"
        placeholder={`up to ${MAX_CANDIDATES}, separated by commas`}
        value={text}
        onChange={(e) => write(e.target.value)}
      />
      <span>or evenly</span>
      <span className="flex items-center gap-1.5">
        from
        <input
          className="field w-[64px] text-right"
          aria-label="From"
          value={ends.from}
          onChange={(e) => setEnds({ ...ends, from: e.target.value })}
        />
        to
        <input
          className="field w-[64px] text-right"
          aria-label="To"
          value={ends.to}
          onChange={(e) => setEnds({ ...ends, to: e.target.value })}
        />
        in
        <select
          className="field"
          aria-label="How many"
          value={ends.count}
          onChange={(e) => setEnds({ ...ends, count: Number(e.target.value) })}
        >
          {[2, 3, 4].map((n) => (
            <option key={n}>{n}</option>
          ))}
        </select>
        <button type="button" className="btn" onClick={evenly}>
          Spread
        </button>
      </span>
    </>
  );
}

/** Values of a choice or flag, or treatments, to tick. */
function NamedWays({ step, spec, set }: { step: PlanStep; spec: SettingSpec | undefined; set: (drafts: Draft[]) => void }) {
  const treatments = useBench((s) => s.treatments);
  const [ticked, setTicked] = useState<string[]>([]);
  const ways = spec
    ? (spec.options ?? [
        { value: 'true', label: 'on' },
        { value: 'false', label: 'off' },
      ])
    : [...treatments.map((t) => ({ value: t.id, label: `${t.name}, for ${t.answers}` })), { value: 'off', label: 'left out' }];
  const tick = (value: string): void => {
    const next = ticked.includes(value) ? ticked.filter((v) => v !== value) : [...ticked, value];
    setTicked(next);
    if (spec) set(bySetting(step, spec, spec.kind === 'flag' ? next.map((v) => v === 'true') : next));
    else
      set(
        byTreatment(
          step,
          next.map((v) => treatments.find((t) => t.id === v) ?? 'off'),
        ),
      );
  };
  return (
    <>
      <span>Ways</span>
      <span className="grid grid-cols-2 gap-x-3">
        {ways.map(({ value, label }) => (
          <label key={value} className="flex min-h-[26px] items-center gap-2">
            <input
              type="checkbox"
              className="h-4 w-4 accent-[var(--act)]"
              checked={ticked.includes(value)}
              disabled={!ticked.includes(value) && ticked.length >= MAX_CANDIDATES}
              onChange={() => tick(value)}
            />
            {label}
          </label>
        ))}
      </span>
    </>
  );
}
