'use client';

import type { Fork } from '../../../shared/plan';
import { addBranch, removeEntry } from '../state/planActions';
import { useBenchStore } from '../state/store';
import { RungActions, RungSwitch } from './sortableRung';

/** What can be done with an open fork. */
export function ForkPanel({ fork, problem }: { fork: Fork; problem: string | undefined }) {
  const bench = useBenchStore();
  return (
    <div className="pr-3 pb-2 pl-[28px]">
      {problem && <p className="mb-1.5 text-warn">{problem}</p>}
      <p className="mb-1.5 text-[12px] leading-[16px] text-ink2">
        Each branch treats the same picture; each lies over the ones before it, as far as its opacity and its mask say. What no branch
        covers is the picture as it came.
      </p>
      <RungActions>
        <RungSwitch id={fork.id} on={fork.on} />
        <button type="button" className="quiet" onClick={() => addBranch(bench, fork.id)}>
          Add a branch
        </button>
        <button type="button" className="quiet ml-auto" onClick={() => removeEntry(bench, fork.id)}>
          Remove
        </button>
      </RungActions>
    </div>
  );
}
