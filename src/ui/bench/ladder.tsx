'use client';

import { closestCenter, DndContext, type DragEndEvent } from '@dnd-kit/core';
import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { Redo2, Undo2 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { rate, streamText } from '../parts/format';
import { sortingAnnouncements, useSortingSensors } from '../parts/sorting';
import { usePatches } from './patches';
import { after, before, redo, undo, versionAt } from './history';
import { addStep, moveStep } from './planActions';
import { EndRung, StepRung } from './rung';
import { livePlan, useBench, useBenchStore } from './store';

/** The plan: a rung for the source, one for each step, one for what is handed over. */
export function Ladder() {
  const bench = useBenchStore();
  const plan = useBench(livePlan);
  const { description, costs, output, history } = useBench((s) => s);
  const patches = usePatches();
  const sensors = useSortingSensors();
  const on = plan.steps.filter((s) => s.on);
  const total = on.reduce((sum, s) => sum + (costs[s.id] ?? 0), 0);
  const ended = ({ active, over }: DragEndEvent): void => {
    if (over) moveStep(bench, String(active.id), String(over.id));
  };
  const treatments = useBench((s) => s.treatments);
  const name = (id: string | number): string => {
    const treatment = plan.steps.find((s) => s.id === id)?.treatment;
    return treatments.find((t) => t.id === treatment)?.name ?? 'The step';
  };
  const announcements = sortingAnnouncements(
    plan.steps.map((step) => step.id),
    name,
  );
  const source = description.source;
  const scan =
    source.frames > 1
      ? `${source.width} × ${source.height}${source.fieldOrder === 'progressive' ? 'p' : 'i'}, ${rate(source.rate)}`
      : `${source.width} × ${source.height}, ${source.depth} bits`;
  return (
    <section aria-label="Plan" className="flex h-full flex-col overflow-hidden bg-paper">
      <header className="flex h-[34px] shrink-0 items-center gap-2 border-b pr-2 pl-[14px]">
        <h2 className="text-[14px]">Plan</h2>
        <span className="truncate text-ink2" data-testid="plan-version">
          version {versionAt(history, history.at)?.number ?? '…'}
        </span>
        <span className="flex-1" />
        <button type="button" className="btn px-1.5" disabled={!before(history)} onClick={() => undo(bench)} aria-label="Undo">
          <Undo2 size={14} aria-hidden />
        </button>
        <button type="button" className="btn px-1.5" disabled={!after(history)} onClick={() => redo(bench)} aria-label="Redo">
          <Redo2 size={14} aria-hidden />
        </button>
      </header>
      <div className="relative min-h-0 flex-1 overflow-y-auto pt-1 pb-4">
        <DndContext id="ladder" sensors={sensors} collisionDetection={closestCenter} accessibility={{ announcements }} onDragEnd={ended}>
          <ol aria-label="Ladder">
            <EndRung
              name="Source"
              detail={scan}
              cost={source.frames > 1 ? `${source.frames.toLocaleString('en-GB')} fr` : ''}
              patch={patches[0]}
            />
            <SortableContext items={plan.steps.map((s) => s.id)} strategy={verticalListSortingStrategy}>
              {plan.steps.map((step, index) => {
                const before = plan.steps.slice(0, index + 1).filter((s) => s.on).length;
                return (
                  <StepRung key={step.id} step={step} patch={patches[before]} described={description.steps.find((d) => d.id === step.id)} />
                );
              })}
            </SortableContext>
            <EndRung
              name="Restored master"
              detail={streamText(output)}
              cost={total ? `${(total / 1000).toFixed(2)} ${output.frames > 1 ? 's/fr' : 's'}` : ''}
              patch={patches[on.length]}
              last
            />
          </ol>
        </DndContext>
        <AddTreatment />
      </div>
    </section>
  );
}

function AddTreatment() {
  const bench = useBenchStore();
  const treatments = useBench((s) => s.treatments);
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="quiet mt-1 ml-[28px]">+ Add a treatment</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" className="z-20 min-w-[260px] border border-rule2 bg-sheet py-1">
          {treatments.map((t) => (
            <DropdownMenu.Item
              key={t.id}
              onSelect={() => addStep(bench, t.id)}
              className="flex cursor-pointer justify-between gap-6 px-3 py-1 outline-none data-[highlighted]:bg-ink data-[highlighted]:text-paper"
            >
              <span className="font-semibold">{t.name}</span>
              <span className="opacity-80">{t.answers}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
