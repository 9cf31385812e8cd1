'use client';

import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { isFork, type Branch, type Fork, type PlanEntry } from '../../../shared/plan';
import { useBench, useBenchStore } from '../state/store';
import { BranchPanel } from './branchPanel';
import { ForkPanel } from './forkPanel';
import { AddTreatment } from './addTreatment';
import type { Patches } from './patches';
import { StepRung } from './rung';
import { costText, LookButton } from './rungParts';
import { OpenButton, SortableRung } from './sortableRung';
import type { PlanDescription } from '../../../archive';

type Described = PlanDescription['steps'][number];

/** Rungs of a list of entries. @param from the node before the first of them, whose patch those that are off show. */
export function Entries({ entries, from, patches }: { entries: PlanEntry[]; from: string; patches: Patches }) {
  const described = useBench((s) => s.description.steps);
  const lastOn = (index: number): string => entries.slice(0, index + 1).findLast((e) => e.on)?.id ?? from;
  return (
    <SortableContext items={entries.map((e) => e.id)} strategy={verticalListSortingStrategy}>
      {entries.map((entry, index) => {
        const own = described.find((d) => d.id === entry.id);
        return isFork(entry) ? (
          <ForkRung key={entry.id} fork={entry} from={lastOn(index - 1)} patches={patches} described={own} />
        ) : (
          <StepRung key={entry.id} step={entry} patch={patches[lastOn(index)]} described={own} />
        );
      })}
    </SortableContext>
  );
}

/** A fork: its branches set in below one another, the one that lies on top last. */
function ForkRung({ fork, from, patches, described }: { fork: Fork; from: string; patches: Patches; described: Described | undefined }) {
  const open = useBench((s) => s.opened === fork.id);
  const cost = useBench((s) => s.costs[fork.id]);
  const words = {
    name: 'Fork',
    off: !fork.on,
    detail: described?.problem ?? described?.summary ?? '',
    fault: fork.on && Boolean(described?.problem),
    cost: fork.on ? costText(cost) : 'off',
  };
  return (
    <SortableRung id={fork.id} name="the fork" testId="fork" on={fork.on} patch={patches[fork.on ? fork.id : from]} words={words}>
      {open && <ForkPanel fork={fork} problem={described?.problem} />}
      <ul aria-label="Branches, the topmost last" className={fork.on ? '' : 'opacity-60'}>
        {fork.branches.map((branch) => (
          <BranchRung key={branch.id} fork={fork} branch={branch} from={from} patches={patches} />
        ))}
      </ul>
    </SortableRung>
  );
}

function BranchRung({ fork, branch, from, patches }: { fork: Fork; branch: Branch; from: string; patches: Patches }) {
  const bench = useBenchStore();
  const open = useBench((s) => s.opened === branch.id);
  const solo = useBench((s) => s.solo === branch.id);
  const described = useBench((s) => s.description.steps.find((d) => d.id === branch.id));
  const { setNodeRef } = useSortable({ id: branch.id, disabled: { draggable: true } });
  const on = fork.on && branch.on;
  return (
    <li
      ref={setNodeRef}
      data-testid="branch"
      className={`relative ml-[22px] border-l-2 ${solo ? 'border-act' : 'border-rule2'} ${open ? 'bg-sheet' : ''}`}
    >
      <div className="flex gap-[8px] py-[4px] pr-3 pl-[8px]">
        <LookButton id={branch.id} name={branch.name} on={on} patch={patches[on ? branch.id : from]} small />
        <OpenButton
          id={branch.id}
          label={`${branch.name}, branch`}
          words={{ name: branch.name, off: !branch.on, detail: described?.summary ?? '', cost: branch.on ? '' : 'off', near: true }}
        />
        <button
          type="button"
          className="quiet self-start pt-[2px]"
          aria-pressed={solo}
          title={solo ? 'All branches again' : 'Looks at this branch as if there were no other; the plan stays'}
          onClick={() => bench.setState({ solo: solo ? undefined : branch.id })}
        >
          {solo ? 'all' : 'solo'}
        </button>
      </div>
      {open && <BranchPanel fork={fork} branch={branch} />}
      <ol aria-label={`Steps of ${branch.name}`}>
        <Entries entries={branch.steps} from={from} patches={patches} />
      </ol>
      <div className="pb-1 pl-[28px]">
        <AddTreatment branch={branch} />
      </div>
    </li>
  );
}
