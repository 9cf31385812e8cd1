import type { Mask, MaskArea } from '../../core/plan/mask';

/** Smallest side of an area, and sides of a new one, in fractions of the frame. */
const SMALLEST = 0.02;
const FRESH = { width: 0.3, height: 0.4 };

const held = (v: number, least: number, most: number): number => Number(Math.min(most, Math.max(least, v)).toFixed(4));

/** A new area round a point. */
export const freshArea = (shape: MaskArea['shape'], u: number, v: number): MaskArea =>
  moved({ shape, x: u - FRESH.width / 2, y: v - FRESH.height / 2, ...FRESH }, 0, 0);

/** The area further on; its middle stays in the frame. */
export const moved = (area: MaskArea, dx: number, dy: number): MaskArea => ({
  ...area,
  x: held(area.x + dx, -area.width / 2, 1 - area.width / 2),
  y: held(area.y + dy, -area.height / 2, 1 - area.height / 2),
});

/** The area with its lower right corner elsewhere. */
export const stretched = (area: MaskArea, dx: number, dy: number): MaskArea => ({
  ...area,
  width: held(area.width + dx, SMALLEST, 2),
  height: held(area.height + dy, SMALLEST, 2),
});

export const withArea = (mask: Mask | undefined, area: MaskArea): Mask => ({
  outside: mask?.outside ?? false,
  soft: mask?.soft ?? 0.02,
  areas: [...(mask?.areas ?? []), area],
});

export const replaced = (mask: Mask, index: number, area: MaskArea): Mask => ({ ...mask, areas: mask.areas.with(index, area) });

/** Without one area; nothing is left of a mask without any. */
export const without = (mask: Mask, index: number): Mask | undefined =>
  mask.areas.length > 1 ? { ...mask, areas: mask.areas.toSpliced(index, 1) } : undefined;

/** oval, 30 × 40 % */
export const areaText = (a: MaskArea): string => `${a.shape}, ${Math.round(a.width * 100)} × ${Math.round(a.height * 100)} %`;
