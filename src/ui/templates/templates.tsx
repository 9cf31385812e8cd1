'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { toast } from 'sonner';
import type { KeptTemplate, TreatmentInfo } from '../../archive';
import type { TemplateEntry, TemplateStep } from '../../core';
import { shownValue } from '../../shared/settings';
import { api } from '../parts/api';
import { Trouble } from '../parts/empty';
import { Shell } from '../parts/shell';

export const useTemplates = () => useQuery({ queryKey: ['templates'], queryFn: () => api<KeptTemplate[]>('templates') });

/** Plans for kinds of sources: what is fixed in each and what is measured anew. */
export function TemplatesPlace() {
  const queries = useQueryClient();
  const { data, error } = useTemplates();
  const { data: treatments = [] } = useQuery({
    queryKey: ['treatments'],
    queryFn: () => api<TreatmentInfo[]>('treatments'),
    staleTime: Infinity,
  });
  const [chosen, setChosen] = useState<string>();
  const file = useRef<HTMLInputElement>(null);
  const shown = data?.find((t) => t.id === chosen) ?? data?.[0];
  const refresh = (): Promise<void> => queries.invalidateQueries({ queryKey: ['templates'] });
  const takeIn = async (files: FileList | null): Promise<void> => {
    for (const f of files ?? []) {
      try {
        const made = await api<KeptTemplate>('templates', { method: 'POST', body: await f.text() });
        setChosen(made.id);
        toast(`“${made.template.name}” is among the templates.`);
      } catch (e) {
        toast.error(`${f.name}: ${(e as Error).message}`);
      }
    }
    await refresh();
  };
  const remove = async (kept: KeptTemplate): Promise<void> => {
    await api(`templates/${kept.id}`, { method: 'DELETE' });
    toast(`“${kept.template.name}” is thrown away; plans made from it stay.`);
    await refresh();
  };
  return (
    <Shell
      trail={<h1 className="text-[15px]">Templates</h1>}
      actions={
        <>
          <input
            ref={file}
            type="file"
            accept=".json,application/json"
            multiple
            hidden
            data-testid="template-file"
            onChange={(e) => void takeIn(e.target.files).then(() => (e.target.value = ''))}
          />
          <button type="button" className="btn" onClick={() => file.current?.click()}>
            Take in a file…
          </button>
        </>
      }
    >
      <main className="grid min-h-0 flex-1 grid-cols-[minmax(260px,360px)_1fr]">
        <nav aria-label="Templates" className="overflow-y-auto border-r py-1">
          <Trouble error={error} />
          {data?.map((kept) => (
            <button
              key={kept.id}
              type="button"
              aria-current={kept === shown || undefined}
              onClick={() => setChosen(kept.id)}
              className="flex w-full cursor-pointer items-baseline justify-between gap-3 px-[14px] py-[7px] text-left hover:bg-paper2 aria-[current]:bg-ink aria-[current]:text-paper"
            >
              <span className="serif truncate text-[14px]">{kept.template.name}</span>
              <span className="shrink-0 opacity-80">{kept.own ? 'your own' : 'comes with Wairetic'}</span>
            </button>
          ))}
        </nav>
        {shown && (
          <section aria-label={shown.template.name} className="overflow-y-auto px-6 py-4">
            <h2 className="text-[18px]">{shown.template.name}</h2>
            <p className="mt-1 max-w-[60em] text-ink2">{shown.template.about}</p>
            <ol aria-label="Steps" className="mt-4 max-w-[860px] border-t">
              <EntryRows entries={shown.template.steps} treatments={treatments} />
            </ol>
            <p className="mt-3 max-w-[60em] text-ink2">
              Everything that is not named here is measured anew on each item. To make one of your own, keep a plan from the bench as a
              template; to use one, choose items in a collection.
            </p>
            <div className="mt-4 flex gap-3">
              <a className="btn" href={`/api/templates/${shown.id}`} download>
                Hand out as a file
              </a>
              {shown.own && (
                <button type="button" className="btn" onClick={() => void remove(shown)}>
                  Throw away
                </button>
              )}
            </div>
          </section>
        )}
      </main>
    </Shell>
  );
}

/** Steps in order; those of branches are set in below the branch's name. */
function EntryRows({ entries, treatments, depth = 0 }: { entries: TemplateEntry[]; treatments: TreatmentInfo[]; depth?: number }) {
  return entries.map((entry, n) => {
    if (!('branches' in entry)) {
      const info = treatments.find((t) => t.id === entry.treatment);
      return <StepRow key={n} number={n + 1} depth={depth} step={entry} info={info} />;
    }
    return (
      <li key={n} className="border-b" style={{ paddingLeft: 24 * depth }}>
        <p className="grid grid-cols-[26px_1fr] gap-3 py-[6px]">
          <span className="text-ink2 tabular-nums">{n + 1}</span>
          <span className="font-semibold">Fork{entry.on ? '' : ', off'}</span>
        </p>
        {entry.branches.map((branch, b) => (
          <div key={b}>
            <p className="py-[4px] pl-[38px]">
              {branch.name} <span className="text-ink2">{branch.on ? `${branch.opacity} %` : 'off, at hand'}</span>
            </p>
            <ol aria-label={branch.name} className="border-t">
              <EntryRows entries={branch.steps} treatments={treatments} depth={depth + 1} />
            </ol>
          </div>
        ))}
      </li>
    );
  });
}

function StepRow({ number, depth, step, info }: { number: number; depth: number; step: TemplateStep; info: TreatmentInfo | undefined }) {
  const fixed = Object.entries(step.settings).map(([key, value]) => {
    const spec = info?.settings.find((s) => s.key === key);
    return `${spec?.label.toLowerCase() ?? key} ${shownValue(spec, value)}`;
  });
  const on = step.on === 'measured' ? 'where measured' : step.on ? 'always' : 'off, at hand';
  return (
    <li className="grid grid-cols-[26px_130px_120px_1fr] gap-3 border-b py-[6px]" style={{ paddingLeft: 24 * depth }}>
      <span className="text-ink2 tabular-nums">{number}</span>
      <span className="font-semibold">{info?.name ?? step.treatment}</span>
      <span className="text-ink2">{on}</span>
      <span>{fixed.length ? fixed.join(', ') : <span className="text-ink2">all measured anew</span>}</span>
    </li>
  );
}
