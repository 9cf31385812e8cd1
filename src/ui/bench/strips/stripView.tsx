'use client';

import { useQueryClient } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Strip, StripFigures } from '../../../archive';
import { displayWidth } from '../../../shared/display';
import { mapSteps, type PlanStep } from '../../../shared/plan';
import { api, fetchProof, type Proof } from '../../parts/api';
import { useCommands, type Command } from '../../parts/commands';
import { secondsText } from '../../parts/format';
import { useSize } from '../../parts/size';
import { nextTurn, viewerName } from '../picture/layers';
import { takeCandidate } from '../state/planActions';
import { useBench, useBenchStore } from '../state/store';
import { figuresFrom } from './strips';
import type { StripUpdateRequest } from '../../../shared/requests';

/** A pane at most this many screen pixels asks of the server. */
const MAX_PANE_SIDE = 1600;

interface Pane {
  answer?: Proof;
  problem?: string;
}

/** The candidates of a strip beside one another, on the same piece of the picture, with their figures beneath. */
export function StripView({ strip }: { strip: Strip }) {
  const bench = useBenchStore();
  const [panes, figures] = usePanes(strip);
  const [zoom, setZoom] = useState<'fit' | 1 | 2 | 4>('fit');
  const [at, setAt] = useState({ u: 0.5, v: 0.5 });
  const still = useBench((s) => s.description.source.frames === 1);
  const close = useCallback((): void => bench.setState({ strip: undefined }), [bench]);
  useCommands(
    useMemo(
      (): Command[] => [
        { id: 'close-strip', name: 'Close the strip', group: 'Test strip', keys: ['escape'], shown: 'Esc', run: close },
        ...strip.candidates.map((candidate, n): Command => ({
          id: `take-${n}`,
          name: `Take ${candidate.label} into the plan`,
          group: 'Test strip',
          keys: [`alt+${n + 1}`],
          shown: `Alt ${n + 1}`,
          run: () => void takeCandidate(bench, strip, n),
        })),
      ],
      [bench, strip, close],
    ),
  );
  return (
    <section aria-label={`Test strip, ${strip.about}`} className="flex h-full min-w-0 flex-col bg-paper">
      <div className="flex h-[34px] shrink-0 items-center gap-3 border-b px-[10px]">
        <h2 className="shrink-0 text-[14px]">Test strip</h2>
        <span className="min-w-0 truncate text-ink2">
          {strip.about}
          {!still && ` · frame ${strip.frame}`}
        </span>
        <span className="seg shrink-0" role="group" aria-label="Zoom of the strip">
          {(['fit', 1, 2, 4] as const).map((z) => (
            <button key={z} type="button" aria-pressed={zoom === z} onClick={() => setZoom(z)}>
              {z === 'fit' ? 'Fit' : `${z}00`}
            </button>
          ))}
        </span>
        <span className="flex-1" />
        <button type="button" className="btn" onClick={close}>
          <X size={13} aria-hidden /> Close
        </button>
      </div>
      <ol
        aria-label="Candidates"
        className={`grid min-h-0 flex-1 gap-1 bg-[var(--surround)] p-1 ${
          strip.candidates.length === 4 ? 'grid-cols-2 grid-rows-2' : strip.candidates.length === 3 ? 'grid-cols-3' : 'grid-cols-2'
        }`}
      >
        {strip.candidates.map((candidate, n) => (
          <li key={candidate.label} className="flex min-h-0 min-w-0 flex-col bg-paper" data-testid="candidate">
            <div className="flex items-baseline justify-between gap-2 px-2 pt-1">
              <span className="truncate font-semibold">{candidate.label}</span>
              {strip.chosen === n && <span className="shrink-0 text-act">taken</span>}
            </div>
            <PanePicture pane={panes[n]} zoom={zoom} at={at} move={setAt} label={candidate.label} />
            <Figures figures={figures[n] ?? candidate.figures} still={still} />
            <button type="button" className="btn m-1 mt-0 justify-center" onClick={() => void takeCandidate(bench, strip, n)}>
              Take into the plan <kbd className="key">Alt {n + 1}</kbd>
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** The candidates' proofs, one after the other, and what is measured of them; the figures are kept with the strip. */
function usePanes(strip: Strip): [Record<number, Pane>, Record<number, StripFigures>] {
  const bench = useBenchStore();
  const queries = useQueryClient();
  const [panes, setPanes] = useState<Record<number, Pane>>({});
  const [figures, setFigures] = useState<Record<number, StripFigures>>({});
  const { id, itemId } = strip;
  // Taking a candidate changes the strip, not what it shows.
  const shown = useRef(strip);
  useEffect(() => {
    if (shown.current.id !== id) shown.current = strip;
  }, [id, strip]);
  useEffect(() => {
    const controller = new AbortController();
    const { plan, step, frame, region, candidates } = shown.current;
    const { steps } = bench.getState().description;
    const expected = (s: PlanStep): number | undefined => steps.find((d) => d.id === step)?.seconds?.[String(s.settings.quality)];
    const turn = nextTurn();
    const work = async (): Promise<void> => {
      const measured: (StripFigures | null)[] = candidates.map(() => null);
      for (const [n, candidate] of candidates.entries()) {
        const own = mapSteps(plan, (s) => (s.id === step ? candidate.step : s));
        const fit = { width: MAX_PANE_SIDE, height: MAX_PANE_SIDE };
        const query = { plan: own, frame, region, fit, figures: true, viewer: viewerName('strip'), turn, lane: 'picture' as const };
        try {
          const answer = await fetchProof(itemId, query, controller.signal);
          if (!answer || controller.signal.aborted) return;
          const found = (measured[n] = figuresFrom(answer, step, expected(candidate.step)));
          setPanes((old) => ({ ...old, [n]: { answer } }));
          setFigures((old) => ({ ...old, [n]: found }));
        } catch (error) {
          if (controller.signal.aborted) return;
          setPanes((old) => ({ ...old, [n]: { problem: (error as Error).message } }));
        }
      }
      if (measured.every((f) => f !== null)) {
        await api(`items/${itemId}/strips/${id}`, { method: 'PATCH', json: { figures: measured } satisfies StripUpdateRequest });
        await queries.invalidateQueries({ queryKey: ['strips', itemId] });
      }
    };
    void work().catch(() => undefined);
    return () => controller.abort();
  }, [bench, id, itemId, queries]);
  return [panes, figures];
}

function Figures({ figures, still }: { figures: StripFigures | undefined; still: boolean }) {
  const rows: [string, string, string][] = figures
    ? [
        [
          'time',
          figures.seconds === null ? 'unknown' : `${secondsText(figures.seconds)}${still ? '' : '/fr'}`,
          `What the step takes for ${still ? 'the whole picture' : 'a frame'}, reckoned from this piece`,
        ],
        ['edges', figures.edges === null ? 'none' : `${figures.edges.toFixed(2)} px`, 'Width of the clear edges: less is sharper'],
        ['grain left', `σ ${figures.noise.toFixed(1)}`, 'Deviation of what grain there is, of 255'],
        ['invented', `${(figures.invented * 100).toFixed(1)} %`, 'Share the source does not support'],
      ]
    : ['time', 'edges', 'grain left', 'invented'].map((name) => [name, '…', '']);
  return (
    <dl className="flex flex-wrap gap-x-4 px-2 py-1 text-[12px]">
      {rows.map(([name, value, help]) => (
        <div key={name} className="flex gap-1.5 whitespace-nowrap" title={help}>
          <dt className="text-ink2">{name}</dt>
          <dd className="tabular-nums">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

function PanePicture({
  pane,
  zoom,
  at,
  move,
  label,
}: {
  pane: Pane | undefined;
  zoom: 'fit' | 1 | 2 | 4;
  at: { u: number; v: number };
  move: (at: { u: number; v: number }) => void;
  label: string;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = useSize(canvas);
  const answer = pane?.answer;
  const wide = useBench((s) => displayWidth(s.output));
  const high = useBench((s) => s.output.height);
  const box = useMemo(() => {
    if (!answer || size.width === 0) return undefined;
    const shown = { width: answer.place.width * wide, height: answer.place.height * high };
    const scale = zoom === 'fit' ? Math.min(size.width / shown.width, size.height / shown.height) : zoom;
    const width = shown.width * scale,
      height = shown.height * scale;
    const along = (length: number, room: number, centre: number): number =>
      length <= room ? (room - length) / 2 : Math.min(0, Math.max(room - length, room / 2 - centre * length));
    return { x: along(width, size.width, at.u), y: along(height, size.height, at.v), width, height };
  }, [answer, size, wide, high, zoom, at]);
  useEffect(() => {
    const element = canvas.current as HTMLCanvasElement;
    const ratio = window.devicePixelRatio;
    element.width = Math.round(size.width * ratio);
    element.height = Math.round(size.height * ratio);
    const context = element.getContext('2d');
    if (!context || !answer || !box) return;
    context.scale(ratio, ratio);
    context.imageSmoothingEnabled = box.height <= 1.001 * answer.place.height * high;
    context.imageSmoothingQuality = 'high';
    context.drawImage(answer.bitmap, box.x, box.y, box.width, box.height);
  }, [answer, box, size, high]);
  return (
    <div className="relative min-h-0 flex-1 bg-[var(--surround)]">
      <canvas
        ref={canvas}
        role="img"
        aria-label={`The piece with ${label}`}
        data-filled={answer !== undefined}
        className="absolute inset-0 h-full w-full cursor-grab touch-none"
        onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
        onPointerMove={(e) => {
          if (!box || !e.currentTarget.hasPointerCapture(e.pointerId)) return;
          const held = (v: number): number => Math.min(1, Math.max(0, v));
          move({ u: held(at.u - e.movementX / box.width), v: held(at.v - e.movementY / box.height) });
        }}
      />
      {!answer && !pane?.problem && <span className="absolute top-2 left-2 bg-[#3c3c3c] px-1.5 text-white">computing…</span>}
      {pane?.problem && (
        <p role="alert" className="absolute inset-x-2 top-2 border border-warn bg-sheet px-2 py-1 text-warn">
          {pane.problem}
        </p>
      )}
    </div>
  );
}
