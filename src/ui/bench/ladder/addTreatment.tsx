'use client';

import { DropdownMenu } from 'radix-ui';
import { addStep } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';

/** A list of treatments to add to the ladder, or to a branch, each in its natural place. */
export function AddTreatment({ branch }: { branch?: { id: string; name: string } }) {
  const bench = useBenchStore();
  const treatments = useBench((s) => s.treatments);
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        className={branch ? 'quiet' : 'quiet mt-1 ml-[28px]'}
        aria-label={branch ? `Add a treatment to ${branch.name}` : undefined}
      >
        + {branch ? 'Add' : 'Add a treatment'}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" className="z-20 min-w-[260px] border border-rule2 bg-sheet py-1">
          {treatments.map((t) => (
            <DropdownMenu.Item
              key={t.id}
              onSelect={() => addStep(bench, t.id, branch?.id)}
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
