'use client';

import { closestCenter, DndContext, type DragEndEvent } from '@dnd-kit/core';
import { Redo2, Undo2 } from 'lucide-react';
import { allForks, allSteps } from '../../../shared/plan';
import { rate, streamText } from '../../parts/format';
import { sortingAnnouncements, useSortingSensors } from '../../parts/sorting';
import { SOURCE_NODE } from '../picture/layers';
import { after, before, versionAt } from '../state/history';
import { redo, undo } from '../state/historyActions';
import { moveEntry, nameOf } from '../state/planActions';
import { livePlan, useBench, useBenchStore } from '../state/store';
import { AddTreatment } from './addTreatment';
import { Entries } from './entries';
import { OUTPUT, usePatches } from './patches';
import { EndRung } from './rung';

/** The plan: a rung for the source, one for each step and fork, one for what is handed over. */
export function Ladder() {
  const bench = useBenchStore();
  const plan = useBench(livePlan);
  const source = useBench((s) => s.description.source);
  const output = useBench((s) => s.output);
  const costs = useBench((s) => s.costs);
  const history = useBench((s) => s.history);
  const patches = usePatches();
  const sensors = useSortingSensors();
  const total = [...allSteps(plan), ...allForks(plan)].reduce((sum, s) => sum + (s.on ? (costs[s.id] ?? 0) : 0), 0);
  const ended = ({ active, over }: DragEndEvent): void => {
    if (over) moveEntry(bench, String(active.id), String(over.id));
  };
  const announcements = sortingAnnouncements(
    [...allSteps(plan), ...allForks(plan)].map(({ id }) => id),
    (id) => nameOf(bench, String(id)),
  );
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
              patch={patches[SOURCE_NODE]}
            />
            <Entries entries={plan.steps} from={SOURCE_NODE} patches={patches} />
            <EndRung
              name="Restored master"
              detail={streamText(output)}
              cost={total ? `${(total / 1000).toFixed(2)} ${output.frames > 1 ? 's/fr' : 's'}` : ''}
              patch={patches[OUTPUT]}
              last
            />
          </ol>
        </DndContext>
        <AddTreatment />
      </div>
    </section>
  );
}
