'use client';

import { ChevronLeft, ChevronRight, Pause, Play, Volume2 } from 'lucide-react';
import { useState } from 'react';
import { timecode } from '../../parts/format';
import { goTo, markRange, stepFrame, watch } from '../state/keys';
import { useBench, useBenchStore } from '../state/store';
import { LONGEST_STRETCH, stretchRange, type Stretch } from './stretch';

/** Where one is in the running time, and how to move. */
export function Transport({ stretch, split }: { stretch: Stretch; split: () => void }) {
  const bench = useBenchStore();
  const frame = useBench((s) => s.frame);
  const output = useBench((s) => s.output);
  const range = useBench((s) => s.range);
  const playing = useBench((s) => s.playing);
  const watching = useBench((s) => s.watching);
  const silent = useBench((s) => !s.item.facts.tracks.some((t) => t.kind === 'sound'));
  const [typed, setTyped] = useState<string>();
  const chosen = stretchRange(bench);
  const count = chosen.last - chosen.first + 1;
  const asked = range ? range.last - range.first + 1 : count;
  const go = (): void => {
    const n = Number(typed);
    if (typed?.trim() && Number.isFinite(n)) goTo(bench, n);
    setTyped(undefined);
  };
  return (
    <div className="flex flex-col gap-1.5 px-[14px] py-2">
      <div className="text-[20px] leading-6 font-semibold tabular-nums" data-testid="timecode">
        {timecode(frame, output.rate)}
      </div>
      <div className="flex items-center gap-1.5 text-ink2">
        <label htmlFor="frame">frame</label>
        <input
          id="frame"
          className="field w-[64px] text-right"
          inputMode="numeric"
          value={typed ?? String(frame)}
          onFocus={() => setTyped(String(frame))}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={go}
          onKeyDown={(e) => e.key === 'Enter' && go()}
        />
        <span className="tabular-nums">of {output.frames.toLocaleString('en-GB')}</span>
      </div>
      <div className="flex gap-1.5">
        <button type="button" className="btn px-1.5" aria-label="One frame back" onClick={() => stepFrame(bench, -1)}>
          <ChevronLeft size={14} aria-hidden />
        </button>
        <button
          type="button"
          className="btn px-1.5"
          aria-label={playing ? 'Stop' : 'Play'}
          onClick={() => bench.setState({ playing: playing ? 0 : 1 })}
        >
          {playing ? <Pause size={13} aria-hidden /> : <Play size={13} aria-hidden />}
        </button>
        <button
          type="button"
          className="btn px-1.5"
          aria-pressed={watching}
          aria-label={watching ? 'Stop the source' : `Watch the source${silent ? ', which is silent' : ' with its sound'}`}
          title={`The source at its own speed${silent ? '; it has no sound' : ', with its sound'}`}
          onClick={() => watch(bench)}
        >
          <Volume2 size={13} aria-hidden />
        </button>
        <button type="button" className="btn px-1.5" aria-label="One frame on" onClick={() => stepFrame(bench, 1)}>
          <ChevronRight size={14} aria-hidden />
        </button>
        <button type="button" className="btn px-1.5" aria-label="Start the range here" onClick={() => markRange(bench, 'first')}>
          I
        </button>
        <button type="button" className="btn px-1.5" aria-label="End the range here" onClick={() => markRange(bench, 'last')}>
          O
        </button>
        <button
          type="button"
          className="quiet ml-1 min-h-[24px]"
          title="Makes two items of this one, before and from the frame in view"
          onClick={split}
        >
          Split…
        </button>
      </div>
      <div className="flex items-center gap-2">
        <button
          type="button"
          className="btn"
          onClick={() => stretch.toggle()}
          title={range ? 'Proofs the range, then plays it at its own speed' : 'Proofs the next frames, then plays them at their own speed'}
        >
          {stretch.busy ? 'Stop' : 'Proof stretch'}
        </button>
        <span className="whitespace-nowrap text-ink2 tabular-nums" role="status" data-testid="stretch">
          {stretch.busy
            ? `${stretch.done} of ${stretch.total}`
            : stretch.total > 0 && stretch.done === stretch.total
              ? `${stretch.total} proofed`
              : asked > LONGEST_STRETCH
                ? `first ${LONGEST_STRETCH} fr`
                : `${count} fr`}
        </span>
      </div>
    </div>
  );
}
