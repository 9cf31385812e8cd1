'use client';

import { useState } from 'react';
import { Slider } from 'radix-ui';
import type { Branch, Fork } from '../../../shared/plan';
import { MaskPanel } from '../masks/maskPanel';
import { addBranch, changeOpacity, moveBranch, removeEntry, renameBranch } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';
import { NumberField } from './numberField';
import { RungActions, RungSwitch } from './sortableRung';
import { SpanPanel } from './spanPanel';

const OPACITY = {
  key: 'opacity',
  kind: 'number' as const,
  label: 'Opacity',
  unit: '%',
  min: 0,
  max: 100,
  step: 1,
  whole: true,
  default: 100,
  help: 'How far the branch covers what lies below it.',
};

/** A quiet button that looks it when it can do nothing. */
const QUIET_BUTTON = 'quiet disabled:cursor-default disabled:font-normal disabled:text-ink3 disabled:no-underline';

/** An open branch: its name, how far, where and when it is seen, and its place among the others. */
export function BranchPanel({ fork, branch }: { fork: Fork; branch: Branch }) {
  const bench = useBenchStore();
  const moving = useBench((s) => s.description.source.frames > 1);
  const place = fork.branches.indexOf(branch);
  const id = `opacity-${branch.id}`;
  return (
    <div className="pr-3 pb-2 pl-[8px]">
      <div className="grid grid-cols-[66px_1fr_76px] items-center gap-x-2 gap-y-[5px]">
        <label htmlFor={`name-${branch.id}`}>Name</label>
        <BranchName branch={branch} />
        <label htmlFor={id} title={OPACITY.help}>
          {OPACITY.label}
        </label>
        <Slider.Root
          className="relative flex h-5 touch-none items-center"
          min={0}
          max={100}
          step={1}
          value={[branch.opacity]}
          onValueChange={([v]) => changeOpacity(bench, branch.id, v, true)}
          onValueCommit={([v]) => changeOpacity(bench, branch.id, v)}
        >
          <Slider.Track className="relative h-[2px] grow bg-rule2">
            <Slider.Range className="absolute h-[2px] bg-act" />
          </Slider.Track>
          <Slider.Thumb className="block h-[13px] w-[6px] bg-act" aria-label="Opacity, slider" />
        </Slider.Root>
        <NumberField
          spec={OPACITY}
          id={id}
          value={branch.opacity}
          description={undefined}
          onCommit={(v) => changeOpacity(bench, branch.id, v)}
        />
      </div>
      <MaskPanel owner={branch.id} mask={branch.mask} />
      {moving && <SpanPanel owner={branch.id} span={branch.span} />}
      <RungActions>
        <RungSwitch id={branch.id} on={branch.on} />
        <button
          type="button"
          className={QUIET_BUTTON}
          disabled={place === fork.branches.length - 1}
          onClick={() => moveBranch(bench, branch.id, 1)}
        >
          Raise
        </button>
        <button type="button" className={QUIET_BUTTON} disabled={place === 0} onClick={() => moveBranch(bench, branch.id, -1)}>
          Lower
        </button>
        <span className="ml-auto flex gap-x-3">
          <button
            type="button"
            className="quiet"
            title="Adds a branch with copies of its steps"
            onClick={() => addBranch(bench, fork.id, branch.id)}
          >
            Duplicate
          </button>
          <button type="button" className="quiet" onClick={() => removeEntry(bench, branch.id)}>
            Remove
          </button>
        </span>
      </RungActions>
    </div>
  );
}

function BranchName({ branch }: { branch: Branch }) {
  const bench = useBenchStore();
  const [text, setText] = useState<string>();
  const commit = (): void => {
    if (text !== undefined) renameBranch(bench, branch.id, text);
    setText(undefined);
  };
  return (
    <input
      id={`name-${branch.id}`}
      className="field col-span-2"
      maxLength={80}
      value={text ?? branch.name}
      onChange={(e) => setText(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => e.key === 'Enter' && commit()}
    />
  );
}
