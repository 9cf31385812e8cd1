'use client';

import { useState, type PointerEvent } from 'react';
import type { Mask, MaskArea } from '../../core/plan/mask';
import { areaText, moved, replaced, stretched } from './areas';
import type { Placement } from './geometry';
import { changeMask, previewMask } from './planActions';
import { livePlan, useBench, useBenchStore } from './store';

/** The areas of the open step's mask, over the picture: to be dragged, and resized by their corner. */
export function MaskOverlay({ at }: { at: Placement }) {
  const step = useBench((s) => livePlan(s).steps.find((t) => t.id === s.opened));
  const place = useBench((s) => s.description.steps.find((d) => d.id === s.opened)?.place);
  if (!step?.mask || !place) return null;
  const frame: Box = {
    x: at.x + place.x * at.width,
    y: at.y + place.y * at.height,
    width: place.width * at.width,
    height: place.height * at.height,
  };
  return step.mask.areas.map((area, index) => <AreaOutline key={index} id={step.id} area={area} index={index} frame={frame} />);
}

interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

function AreaOutline({ id, area, index, frame }: { id: string; area: MaskArea; index: number; frame: Box }) {
  const bench = useBenchStore();
  const [held, setHeld] = useState<{ x: number; y: number; area: MaskArea; change: typeof moved; words: string }>();
  const mask = (): Mask | undefined => livePlan(bench.getState()).steps.find((s) => s.id === id)?.mask;
  const hold =
    (change: typeof moved, words: string) =>
    (event: PointerEvent<HTMLElement>): void => {
      event.stopPropagation();
      event.currentTarget.setPointerCapture(event.pointerId);
      setHeld({ x: event.clientX, y: event.clientY, area, change, words });
    };
  const follow = (event: PointerEvent<HTMLElement>): void => {
    const now = mask();
    if (!held || !now) return;
    event.stopPropagation();
    const next = held.change(held.area, (event.clientX - held.x) / frame.width, (event.clientY - held.y) / frame.height);
    previewMask(bench, id, replaced(now, index, next));
  };
  const letGo = (event: PointerEvent<HTMLElement>): void => {
    const now = mask();
    if (!held || !now) return;
    event.stopPropagation();
    setHeld(undefined);
    changeMask(bench, id, now, held.words);
  };
  return (
    <div
      className={`absolute cursor-move border border-white outline-1 outline-black/60 ${area.shape === 'oval' ? 'rounded-[50%]' : ''}`}
      style={{
        left: frame.x + area.x * frame.width,
        top: frame.y + area.y * frame.height,
        width: area.width * frame.width,
        height: area.height * frame.height,
      }}
      title={`Area ${index + 1}: ${areaText(area)}`}
      data-testid={`area-${index}`}
      onPointerDown={hold(moved, 'area moved')}
      onPointerMove={follow}
      onPointerUp={letGo}
    >
      <span
        className="absolute -right-[5px] -bottom-[5px] h-[10px] w-[10px] cursor-nwse-resize border border-black/60 bg-white"
        data-testid={`corner-${index}`}
        onPointerDown={hold(stretched, 'area resized')}
        onPointerMove={follow}
        onPointerUp={letGo}
      />
    </div>
  );
}
