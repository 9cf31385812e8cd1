'use client';

import { useEffect, useRef } from 'react';
import { composePlaces, scaling } from '../../../shared/maps/place';
import type { Mask } from '../../../shared/masks/mask';
import { maskValues } from '../../../shared/masks/values';
import { useAppearance } from '../../parts/appearance';
import type { Placement, Size } from '../picture/geometry';
import { paintedOnServer } from './painted';
import { useSourceMap } from './sourceMap';

/** Screen pixels to one of the tint's: its edges are soft, and it follows the hand. */
const PIXELS_A_TINT = 2;

/** How far a mask works, laid over the picture: as a tint, or as the mask itself in greys. */
export function MaskTint({ mask, at, room }: { mask: Mask; at: Placement; room: Size }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const map = useSourceMap(at);
  const { tintShown, tintColour, tintStrength } = useAppearance((s) => s);
  const left = Math.max(0, at.x),
    top = Math.max(0, at.y);
  const width = Math.max(1, Math.ceil((Math.min(room.width, at.x + at.width) - left) / PIXELS_A_TINT)),
    height = Math.max(1, Math.ceil((Math.min(room.height, at.y + at.height) - top) / PIXELS_A_TINT));
  useEffect(() => {
    let wanted = true;
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    const place = composePlaces(map.place, scaling(PIXELS_A_TINT, PIXELS_A_TINT, left, top));
    void maskValues(mask, { source: map.source, place, region: { x: 0, y: 0, width, height }, painted: paintedOnServer })
      .then((values) => {
        if (!wanted) return;
        context.canvas.width = width;
        context.canvas.height = height;
        context.putImageData(new ImageData(coloured(values, tintShown === 'mask', tintColour, tintStrength), width, height), 0, 0);
      })
      // The proof of the step says what is wrong with its mask.
      .catch(() => undefined);
    return () => {
      wanted = false;
    };
  }, [mask, map, left, top, width, height, tintShown, tintColour, tintStrength]);
  if (tintShown === 'none') return null;
  return (
    <canvas
      ref={canvas}
      data-testid="mask-tint"
      aria-hidden
      className="pointer-events-none absolute"
      style={{ left, top, width: width * PIXELS_A_TINT, height: height * PIXELS_A_TINT }}
    />
  );
}

function coloured(values: Float32Array, itself: boolean, colour: string, strength: number): Uint8ClampedArray<ArrayBuffer> {
  const [r, g, b] = [1, 3, 5].map((i) => parseInt(colour.slice(i, i + 2), 16));
  const out = new Uint8ClampedArray(4 * values.length);
  for (let i = 0; i < values.length; i++) {
    const grey = 255 * values[i];
    out.set(itself ? [grey, grey, grey, 255] : [r, g, b, 2.55 * strength * values[i]], 4 * i);
  }
  return out;
}
