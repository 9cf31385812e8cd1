'use client';

import { ToggleGroup } from 'radix-ui';
import { useBench, useBenchStore, type CompareMode } from '../state/store';
import type { Drawn } from './painting';
import { setZoom, ZOOMS } from '../state/keys';

const MODES: { value: CompareMode; label: string; help: string }[] = [
  { value: 'split', label: 'Split', help: 'A line between both pictures' },
  { value: 'pair', label: 'Pair', help: 'Both pictures side by side' },
  { value: 'single', label: 'Single', help: 'The result alone' },
  { value: 'difference', label: 'Difference', help: 'How far the pictures differ; black where they are the same' },
  { value: 'flicker', label: 'Flicker', help: 'Both pictures in turn' },
];

/** Changes a second that flicker offers: never more than three flashes. */
const RATES = [1, 2, 4];
/** How strongly a difference may be shown. */
const GAINS = [1, 2, 4, 8, 16, 32];

/** How both pictures are compared, and how large. */
export function ViewerBar({ left }: { left: string }) {
  const bench = useBenchStore();
  const mode = useBench((s) => s.mode);
  const view = useBench((s) => s.view);
  const evidence = useBench((s) => s.evidence);
  const against = useBench((s) => s.against);
  return (
    <div className="flex min-h-[34px] shrink-0 flex-wrap items-center gap-x-2 gap-y-1 border-b px-[10px] py-1">
      <ToggleGroup.Root
        type="single"
        value={mode}
        onValueChange={(v) => v && bench.setState({ mode: v as CompareMode })}
        className="seg"
        aria-label="Comparison"
      >
        {MODES.map((m) => (
          <ToggleGroup.Item key={m.value} value={m.value} title={m.help}>
            {m.label}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
      <ModeOptions />
      <ToggleGroup.Root
        type="single"
        value={String(view.zoom)}
        onValueChange={(v) => v && setZoom(bench, v === 'fit' ? 'fit' : Number(v))}
        className="seg shrink-0"
        aria-label="Zoom"
      >
        {ZOOMS.map(({ zoom, label }) => (
          <ToggleGroup.Item key={label} value={String(zoom)}>
            {label}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
      <button
        type="button"
        className="btn shrink-0"
        aria-pressed={evidence}
        title="Grey where the source supports the result, amber where a network or a sharpening added to it, blue where colour was added, green where another picture lies"
        onClick={() => bench.setState({ evidence: !evidence })}
      >
        Evidence
      </button>
      <span className="flex-1" />
      {against ? (
        <button type="button" className="quiet shrink-0" onClick={() => bench.setState({ against: undefined })}>
          back to the source
        </button>
      ) : (
        <HoldButton left={left} />
      )}
    </div>
  );
}

/** What a way of comparing can be told: the line's way, the strength of a difference, the rate of flicker. */
function ModeOptions() {
  const bench = useBenchStore();
  const mode = useBench((s) => s.mode);
  const way = useBench((s) => s.way);
  const gain = useBench((s) => s.gain);
  const flickerRate = useBench((s) => s.flickerRate);
  if (mode === 'split')
    return (
      <button
        type="button"
        className="btn shrink-0 px-1.5"
        aria-label={`Turn the split line: ${way === 'upright' ? 'upright' : 'level'} now`}
        title="Turn the split line"
        onClick={() => bench.setState({ way: way === 'upright' ? 'level' : 'upright' })}
      >
        <span className={`block h-[11px] w-[11px] border border-ink ${way === 'upright' ? 'border-r-[6px]' : 'border-b-[6px]'}`} />
      </button>
    );
  if (mode === 'difference')
    return (
      <label className="flex shrink-0 items-center gap-1 text-ink2">
        shown
        <select className="field" value={gain} onChange={(e) => bench.setState({ gain: Number(e.target.value) })}>
          {GAINS.map((g) => (
            <option key={g} value={g}>
              × {g}
            </option>
          ))}
        </select>
      </label>
    );
  if (mode === 'flicker')
    return (
      <label className="flex shrink-0 items-center gap-1 text-ink2">
        changes
        <select className="field" value={flickerRate} onChange={(e) => bench.setState({ flickerRate: Number(e.target.value) })}>
          {RATES.map((r) => (
            <option key={r} value={r}>
              {r} /s
            </option>
          ))}
        </select>
      </label>
    );
  return null;
}

/** Held down, it shows the left picture instead of the right one. */
function HoldButton({ left }: { left: string }) {
  const bench = useBenchStore();
  const hold = (holding: boolean) => () => bench.setState({ holding });
  return (
    <button
      type="button"
      className="shrink-0 cursor-pointer truncate text-ink2 hover:text-ink"
      aria-label={`Hold for ${left === 'source' ? 'the source' : left}`}
      onPointerDown={hold(true)}
      onPointerUp={hold(false)}
      onPointerLeave={hold(false)}
      onKeyDown={(e) => e.key === ' ' && hold(true)()}
      onKeyUp={hold(false)}
    >
      hold <kbd className="key">S</kbd> for {left === 'source' ? 'the source' : left}
    </button>
  );
}

/** What is under the pointer, and what the last proof took. */
export function ViewerState({
  pointer,
  source,
  result,
  waiting,
}: {
  pointer: { u: number; v: number } | undefined;
  source: Drawn[];
  result: Drawn[];
  waiting: boolean;
}) {
  const output = useBench((s) => s.output);
  const view = useBench((s) => s.view);
  const proofTime = useBench((s) => s.proofTime);
  const firstTime = useBench((s) => s.firstTime);
  const invented = inventedOf(result);
  const values = pointer && { source: readSample(source, pointer), result: readSample(result, pointer) };
  return (
    <div
      className="flex h-[24px] shrink-0 items-center gap-5 overflow-hidden bg-[#4b4b4b] px-3 text-[12px] text-white"
      data-testid="viewer-state"
      data-first={firstTime}
      data-proof={proofTime}
    >
      <span className="w-[9.5em] shrink-0 tabular-nums">
        {pointer
          ? `x ${Math.floor(pointer.u * output.width)}  y ${Math.floor(pointer.v * output.height)}`
          : `${output.width} × ${output.height}`}
      </span>
      <span className="w-[12em] whitespace-nowrap tabular-nums">{values?.source ? `source ${values.source.join(' ')}` : ''}</span>
      <span className="w-[12em] whitespace-nowrap tabular-nums">{values?.result ? `result ${values.result.join(' ')}` : ''}</span>
      <span className="flex-1" />
      {invented !== undefined && <span className="whitespace-nowrap tabular-nums">invented {(invented * 100).toFixed(1)} %</span>}
      <span className="whitespace-nowrap tabular-nums">{view.zoom === 'fit' ? 'fitted' : `${Math.round(view.zoom * 100)} %`}</span>
      <span className="w-[8.5em] text-right whitespace-nowrap tabular-nums" role="status">
        {waiting ? 'proofing…' : proofTime !== undefined ? `proof ${Math.round(proofTime)} ms` : ''}
      </span>
    </div>
  );
}

/** The share of all parts together that the source does not support. */
function inventedOf(parts: Drawn[]): number | undefined {
  let sum = 0,
    size = 0;
  for (const { invented, place } of parts) {
    if (invented === undefined) continue;
    sum += invented * place.width * place.height;
    size += place.width * place.height;
  }
  return size > 0 ? sum / size : undefined;
}

let pixel: CanvasRenderingContext2D | null | undefined;

/** One sample of a picture as red, green and blue, 0 to 255, of the topmost part that holds it. */
function readSample(parts: Drawn[], { u, v }: { u: number; v: number }): number[] | undefined {
  if (pixel === undefined) {
    const canvas = document.createElement('canvas');
    canvas.width = canvas.height = 1;
    pixel = canvas.getContext('2d', { willReadFrequently: true });
  }
  for (const { bitmap, place } of parts.toReversed()) {
    const x = Math.floor(((u - place.x) / place.width) * bitmap.width),
      y = Math.floor(((v - place.y) / place.height) * bitmap.height);
    if (!pixel || x < 0 || y < 0 || x >= bitmap.width || y >= bitmap.height) continue;
    pixel.drawImage(bitmap, x, y, 1, 1, 0, 0, 1, 1);
    return [...pixel.getImageData(0, 0, 1, 1).data.slice(0, 3)];
  }
  return undefined;
}
