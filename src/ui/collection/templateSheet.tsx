'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Item, TemplatePreview } from '../../archive';
import { api } from '../parts/api';
import { Sheet, SheetButtons } from '../parts/ask';
import { useTemplates } from '../templates/templates';
import type { ApplyTemplateRequest } from '../../shared/requests';

/** Applies a template to the chosen items, after showing what it changes in each. */
export function TemplateSheet({
  collectionId,
  items,
  open,
  onOpenChange,
}: {
  collectionId: string;
  items: Item[];
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  return (
    <Sheet title={`Apply a template to ${items.length} ${items.length === 1 ? 'item' : 'items'}`} open={open} onOpenChange={onOpenChange}>
      <TemplateForm collectionId={collectionId} items={items} close={() => onOpenChange(false)} />
    </Sheet>
  );
}

function TemplateForm({ collectionId, items, close }: { collectionId: string; items: Item[]; close: () => void }) {
  const queries = useQueryClient();
  const { data: templates = [] } = useTemplates();
  const [chosen, setChosen] = useState<string>();
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const template = templates.find((t) => t.id === chosen) ?? templates[0];
  const ids = items.map((i) => i.id);
  const ask = <T,>(preview: boolean): Promise<T> =>
    api<T>(`collections/${collectionId}/template`, {
      method: 'POST',
      json: { template: template.id, items: ids, preview } satisfies ApplyTemplateRequest,
    });
  const preview = useQuery({
    queryKey: ['template-preview', collectionId, template?.id, ids],
    queryFn: () => ask<TemplatePreview[]>(true),
    enabled: template !== undefined && ids.length > 0,
    placeholderData: (old) => old,
  });
  const changing = preview.data?.filter((p) => p.changes.length > 0).length ?? 0;
  const apply = async (): Promise<void> => {
    setBusy(true);
    try {
      const { applied } = await ask<{ applied: number }>(false);
      toast(
        `“${template.template.name}” is the plan of ${applied} ${applied === 1 ? 'item' : 'items'} now; the former plans are in their histories.`,
      );
      await queries.invalidateQueries({ queryKey: ['collection', collectionId] });
      close();
    } catch (error) {
      setProblem((error as Error).message);
      setBusy(false);
    }
  };
  if (ids.length === 0) return <p>Choose items first: tick them on the contact sheet.</p>;
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void apply();
      }}
    >
      <label htmlFor="template" className="flex items-center gap-3">
        Template
        <select id="template" className="field min-w-0 flex-1" value={template?.id} onChange={(e) => setChosen(e.target.value)}>
          {templates.map((t) => (
            <option key={t.id} value={t.id}>
              {t.template.name}
              {t.own ? ' (your own)' : ''}
            </option>
          ))}
        </select>
      </label>
      <p className="mt-1.5 min-h-[36px] text-ink2">{template?.template.about}</p>
      <div className="mt-2 h-[34vh] overflow-y-auto border-y" tabIndex={0} role="group" aria-label="What changes">
        {preview.data?.map((p) => (
          <section key={p.itemId} className="border-b px-1 py-1.5 last:border-b-0" data-testid="preview">
            <h3 className="serif text-[13px]">{p.name}</h3>
            {p.problem ? (
              <p className="text-warn">{p.problem}</p>
            ) : p.changes.length === 0 ? (
              <p className="text-ink2">nothing changes</p>
            ) : (
              <ul>
                {p.changes.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            )}
          </section>
        ))}
      </div>
      {(problem || preview.error) && (
        <p role="alert" className="mt-2 text-warn">
          {problem || preview.error?.message}
        </p>
      )}
      <SheetButtons cancel={close} submit="Apply" disabled={busy || changing === 0}>
        <span className="flex-1 text-ink2 tabular-nums">{preview.data && `${changing} of ${ids.length} change`}</span>
      </SheetButtons>
    </form>
  );
}
