'use client';

import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { useAppearance } from '../../parts/appearance';
import { useSize } from '../../parts/size';
import { loupePart, placePicture, visiblePart } from './geometry';
import { useDrag, useWheelZoom } from './gestures';
import { versionAt } from '../state/history';
import { useLayers } from './layers';
import { LoupeFrame } from './loupeFrame';
import { HandOverlay } from '../hand/handOverlay';
import { LineLayer } from '../hand/lineLayer';
import { CornersLayer } from '../geometry/cornersLayer';
import { InlayLayer } from '../inlay/inlayLayer';
import { PickLayer } from '../tone/pickLayer';
import { MaskOverlay } from '../masks/maskOverlay';
import { Navigator } from './navigator';
import { paint, paintDifference, panesFor, roomFor } from './painting';
import { SourceFilm } from '../time/sourceFilm';
import { SideNames } from './sideNames';
import { SplitLine } from './splitLine';
import { stepOf } from '../../../shared/plan';
import { branchOf } from '../state/planActions';
import { findingStep, infoOf, lookedNode, useBench, useBenchStore, type BenchState } from '../state/store';
import type { Stretch } from '../time/stretch';
import { ViewerBar, ViewerState } from './viewerBars';

/** What the left picture is. */
function leftName(s: BenchState): string {
  const other = versionAt(s.history, s.against);
  return other ? other.name || `version ${other.number ?? '…'}` : 'source';
}

/** What the right picture is. */
function rightName(s: BenchState): string {
  if (s.evidence) return 'evidence';
  if (findingStep(s)) return 'what was found';
  const looked = lookedNode(s);
  if (looked === undefined) return s.solo ? `${branchOf(s.plan, s.solo)?.name ?? 'branch'} alone` : 'result';
  const step = stepOf(s.plan, looked);
  return `after ${step ? infoOf(s, step).name : (branchOf(s.plan, looked)?.name ?? 'the fork')}`;
}

/** The picture in the middle: what it was and what it became under one view. */
export function Viewer({ stretch }: { stretch: Stretch }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useRef<HTMLDivElement>(null);
  const size = useSize(stage);
  const ratio = typeof window === 'undefined' ? 1 : window.devicePixelRatio;
  const output = useBench((s) => s.output);
  const view = useBench((s) => s.view);
  const mode = useBench((s) => s.mode);
  const way = useBench((s) => s.way);
  const split = useBench((s) => s.split);
  const loupe = useBench((s) => s.loupe);
  const frame = useBench((s) => s.frame);
  const evidence = useBench((s) => s.evidence);
  const against = useBench((s) => s.against);
  const gain = useBench((s) => s.gain);
  const problem = useBench((s) => s.problem);
  const surround = useAppearance((s) => s.surround);
  const flipped = useFlicker();
  const holding = useBench((s) => s.holding) || flipped;
  const room = useMemo(() => roomFor(mode, size), [mode, size]);
  const at = useMemo(() => placePicture(output, room, view), [output, room, view]);
  const part = useMemo(() => (room.width > 0 ? visiblePart(at, room) : undefined), [at, room]);
  const pixels = { width: part ? part.width * at.width * ratio : 1, height: part ? part.height * at.height * ratio : 1 };
  const kept = evidence || against ? undefined : stretch.find(frame);
  const result = useLayers('result', part, pixels, kept !== undefined);
  const source = useLayers('source', part, pixels, kept !== undefined);
  const shownResult = useMemo(() => (kept ? [kept.result] : result.layers), [kept, result.layers]);
  const shownSource = useMemo(() => (kept ? [kept.source] : source.layers), [kept, source.layers]);
  // Before the stage has a size nothing is asked for yet.
  const waiting = result.waiting || source.waiting || part === undefined;
  const bench = useBenchStore();
  useEffect(() => bench.setState((s) => ({ waiting, settled: s.settled || !waiting })), [bench, waiting]);
  const panes = useMemo(
    () => panesFor({ mode, holding, split, way }, size, (r) => placePicture(output, r, view)),
    [mode, holding, split, way, size, output, view],
  );

  // With the change of the page itself: what says that the picture is there must not be before it.
  useLayoutEffect(() => {
    const element = canvas.current;
    if (!element || size.width === 0) return;
    const width = Math.round(size.width * ratio),
      height = Math.round(size.height * ratio);
    if (element.width !== width) element.width = width;
    if (element.height !== height) element.height = height;
    const context = element.getContext('2d') as CanvasRenderingContext2D;
    context.setTransform(ratio, 0, 0, ratio, 0, 0);
    const ground = getComputedStyle(element).getPropertyValue('--surround');
    if (mode === 'difference' && panes.result) paintDifference(element, ground, panes.result, shownSource, shownResult, gain);
    else paint(element, ground, panes, shownSource, shownResult, !waiting);
  }, [size, ratio, panes, mode, gain, surround, shownSource, shownResult, waiting]);

  const cornering = useBench((s) => s.cornering !== undefined);
  useWheelZoom(stage, room);
  const [pointer, setPointer] = useState<{ u: number; v: number }>();
  const drag = useDrag(size, room, at, setPointer);
  const left = useBench(leftName),
    right = useBench(rightName);
  const loupeBox = loupePart(output, loupe.u, loupe.v);
  const boxes = panes.source && panes.result && mode === 'pair' ? [panes.source.at, panes.result.at] : [at];

  return (
    <section aria-label="Picture" className="flex h-full min-w-0 flex-col bg-paper">
      <ViewerBar left={left} />
      <div
        ref={stage}
        className="relative min-h-0 flex-1 cursor-grab touch-none overflow-hidden bg-[var(--surround)] select-none active:cursor-grabbing"
        data-testid="stage"
        data-frame={kept ? kept.result.frame : result.frame}
        data-waiting={waiting}
        data-source={source.waiting ? undefined : source.frame}
        data-shown={shownSource.length > 0}
        {...drag}
      >
        <canvas ref={canvas} className="absolute inset-0 h-full w-full" role="img" aria-label={`Frame ${frame}: ${left} and ${right}`} />
        {boxes.map((box, i) => (
          <LoupeFrame key={i} box={box} part={loupeBox} label={i === 0} />
        ))}
        {!holding && boxes.map((box, i) => <MaskOverlay key={i} at={box} room={size} />)}
        {!holding && boxes.map((box, i) => <HandOverlay key={i} at={box} />)}
        {!holding && boxes.map((box, i) => <LineLayer key={i} at={box} />)}
        {!holding && boxes.map((box, i) => <PickLayer key={i} at={box} />)}
        {!holding && boxes.slice(-1).map((box, i) => <CornersLayer key={i} at={box} />)}
        {!holding && boxes.slice(-1).map((box, i) => <InlayLayer key={i} at={box} />)}
        <SideNames left={left} right={right} holding={holding} />
        {mode === 'split' && !holding && !cornering && <SplitLine />}
        <SourceFilm at={at} />
        <Navigator part={part} />
        {problem && (
          <p role="alert" className="absolute inset-x-8 top-10 border border-warn bg-sheet px-3 py-2 text-warn">
            {problem}
          </p>
        )}
      </div>
      <ViewerState pointer={pointer} source={shownSource} result={shownResult} waiting={waiting} />
    </section>
  );
}

/** While flicker is on, true and false in turn at its rate. */
function useFlicker(): boolean {
  const on = useBench((s) => s.mode === 'flicker');
  const perSecond = useBench((s) => s.flickerRate);
  const [flipped, setFlipped] = useState(false);
  useEffect(() => {
    if (!on) return;
    const timer = setInterval(() => setFlipped((f) => !f), 1000 / perSecond);
    return () => clearInterval(timer);
  }, [on, perSecond]);
  return on && flipped;
}
