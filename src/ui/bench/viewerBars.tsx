'use client';

import { ToggleGroup } from 'radix-ui';
import type { Drawn } from './painting';
import { useBench, useBenchStore, type CompareMode } from './store';
import { setZoom, ZOOMS } from './keys';

const MODES: { value: CompareMode; label: string }[] = [
  { value: 'split', label: 'Split' },
  { value: 'pair', label: 'Pair' },
  { value: 'single', label: 'Single' },
];

/** How source and result are compared, and how large. */
export function ViewerBar({ after }: { after: string }) {
  const bench = useBenchStore();
  const { mode, view, evidence } = useBench((s) => s);
  return (
    <div className="flex h-[34px] shrink-0 items-center gap-2 border-b px-[10px]">
      <ToggleGroup.Root
        type="single"
        value={mode}
        onValueChange={(v) => v && bench.setState({ mode: v as CompareMode })}
        className="seg"
        aria-label="Comparison"
      >
        {MODES.map((m) => (
          <ToggleGroup.Item key={m.value} value={m.value}>
            {m.label}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
      <ToggleGroup.Root
        type="single"
        value={String(view.zoom)}
        onValueChange={(v) => v && setZoom(bench, v === 'fit' ? 'fit' : Number(v))}
        className="seg"
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
        className="btn aria-pressed:bg-ink aria-pressed:text-paper"
        aria-pressed={evidence}
        title="Grey where the source supports the result, amber where a network or a sharpening added to it"
        onClick={() => bench.setState({ evidence: !evidence })}
      >
        Evidence
      </button>
      <span className="flex-1" />
      <span className="truncate text-ink2">
        {after === 'result' || after === 'evidence' ? '' : `${after} · `}hold <kbd className="key">S</kbd> for the source
      </span>
    </div>
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
  source: Drawn | undefined;
  result: Drawn | undefined;
  waiting: boolean;
}) {
  const { output, view, proofTime } = useBench((s) => s);
  const invented = result?.invented;
  const values = pointer && { source: source && readSample(source, pointer), result: result && readSample(result, pointer) };
  return (
    <div className="flex h-[24px] shrink-0 items-center gap-5 bg-[#4b4b4b] px-3 text-[12px] text-white" data-testid="viewer-state">
      <span className="w-[9.5em] tabular-nums">
        {pointer
          ? `x ${Math.floor(pointer.u * output.width)}  y ${Math.floor(pointer.v * output.height)}`
          : `${output.width} × ${output.height}`}
      </span>
      <span className="w-[12em] whitespace-nowrap tabular-nums">{values?.source ? `source ${values.source.join(' ')}` : ''}</span>
      <span className="w-[12em] whitespace-nowrap tabular-nums">{values?.result ? `result ${values.result.join(' ')}` : ''}</span>
      <span className="flex-1" />
      {invented !== undefined && <span className="whitespace-nowrap tabular-nums">invented {(invented * 100).toFixed(1)} %</span>}
      <span className="whitespace-nowrap tabular-nums">{view.zoom === 'fit' ? 'fitted' : `${Math.round(view.zoom * 100)} %`}</span>
      <span className="w-[8.5em] text-right tabular-nums" role="status">
        {waiting ? 'proofing…' : proofTime !== undefined ? `proof ${Math.round(proofTime)} ms` : ''}
      </span>
    </div>
  );
}

let pixel: CanvasRenderingContext2D | null | undefined;

/** One sample of a picture as red, green and blue, 0 to 255. */
function readSample({ bitmap, place }: Drawn, { u, v }: { u: number; v: number }): number[] | undefined {
  if (pixel === undefined) {
    const canvas = document.createElement('canvas');
    canvas.width = canvas.height = 1;
    pixel = canvas.getContext('2d', { willReadFrequently: true });
  }
  const x = Math.floor(((u - place.x) / place.width) * bitmap.width),
    y = Math.floor(((v - place.y) / place.height) * bitmap.height);
  if (!pixel || x < 0 || y < 0 || x >= bitmap.width || y >= bitmap.height) return undefined;
  pixel.drawImage(bitmap, x, y, 1, 1, 0, 0, 1, 1);
  return [...pixel.getImageData(0, 0, 1, 1).data.slice(0, 3)];
}
