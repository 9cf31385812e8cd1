'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import type { KeptTemplate } from '../../../archive';
import { allSteps, type PlanStep } from '../../../shared/plan';
import { api } from '../../parts/api';
import { Sheet, SheetButtons } from '../../parts/ask';
import { shownValue } from '../../../shared/settings';
import { infoOf, useBench, useBenchStore } from '../state/store';
import type { ItemTemplateRequest } from '../../../shared/requests';

/** Keeps the plan as a template: which settings stay as they are, and which are measured anew on each item. */
export function TemplateDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <Sheet title="Keep the plan as a template" open={open} onOpenChange={onOpenChange}>
      <TemplateForm close={() => onOpenChange(false)} />
    </Sheet>
  );
}

/** Settings that were changed by hand are the ones a template is likely made for. */
const changedKeys = (step: PlanStep): string[] =>
  Object.keys(step.settings).filter((key) => (step.measured ? step.settings[key] !== step.measured[key] : true));

function TemplateForm({ close }: { close: () => void }) {
  const bench = useBenchStore();
  const queries = useQueryClient();
  const plan = useBench((s) => s.plan);
  const item = useBench((s) => s.item);
  const history = useBench((s) => s.history);
  const [name, setName] = useState('');
  const [about, setAbout] = useState('');
  const [fixed, setFixed] = useState<Record<string, string[]>>(() => Object.fromEntries(allSteps(plan).map((s) => [s.id, changedKeys(s)])));
  const [problem, setProblem] = useState('');
  const keep = async (): Promise<void> => {
    try {
      const made = await api<KeptTemplate>(`items/${item.id}/template`, {
        method: 'POST',
        json: { name, about, fixed } satisfies ItemTemplateRequest,
      });
      await queries.invalidateQueries({ queryKey: ['templates'] });
      toast(`“${made.template.name}” is among the templates.`);
      close();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const turn = (id: string, key: string): void =>
    setFixed((old) => ({ ...old, [id]: old[id].includes(key) ? old[id].filter((k) => k !== key) : [...old[id], key] }));
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <div className="grid grid-cols-[90px_1fr] items-center gap-x-3 gap-y-2">
        <label htmlFor="template-name">Name</label>
        <input
          id="template-name"
          className="field"
          required
          maxLength={80}
          value={name}
          onChange={(e) => setName(e.target.value)}
          autoFocus
        />
        <label htmlFor="template-about">For</label>
        <input id="template-about" className="field" maxLength={400} value={about} onChange={(e) => setAbout(e.target.value)} />
      </div>
      <p className="mt-3 mb-1 text-ink2">What is ticked stays as it is; everything else is measured anew on each item.</p>
      <div className="max-h-[38vh] overflow-y-auto border-y" tabIndex={0} role="group" aria-label="Settings that stay">
        {allSteps(plan).map((step) => {
          const info = infoOf(bench.getState(), step);
          return (
            <fieldset key={step.id} className="grid grid-cols-[110px_1fr] gap-2 border-b px-1 py-1.5 last:border-b-0">
              <legend className="sr-only">{info.name}</legend>
              <span className={step.on ? 'font-semibold' : 'text-ink2'} aria-hidden>
                {info.name}
                {!step.on && ', off'}
              </span>
              <span className="flex flex-wrap gap-x-4">
                {info.settings.map((spec) => (
                  <label key={spec.key} className="flex min-h-[26px] items-center gap-1.5 whitespace-nowrap">
                    <input
                      type="checkbox"
                      className="h-4 w-4 accent-[var(--act)]"
                      checked={fixed[step.id].includes(spec.key)}
                      onChange={() => turn(step.id, spec.key)}
                    />
                    {spec.label.toLowerCase()} {shownValue(spec, step.settings[spec.key])}
                  </label>
                ))}
                {info.settings.length === 0 && <span className="text-ink2">no settings</span>}
              </span>
            </fieldset>
          );
        })}
      </div>
      {problem && (
        <p role="alert" className="mt-2 text-warn">
          {problem}
        </p>
      )}
      <SheetButtons cancel={close} submit="Keep it" disabled={!name.trim() || history.unsent.length > 0} />
    </form>
  );
}
