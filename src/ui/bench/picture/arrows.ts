import type { KeyboardEvent } from 'react';

/** Arrow keys as a step of a place, five times as far with Shift; undefined for other keys. */
export function arrows(event: KeyboardEvent, step: number): { dx: number; dy: number } | undefined {
  const by = event.shiftKey ? step * 5 : step;
  const moves: Record<string, { dx: number; dy: number }> = {
    ArrowLeft: { dx: -by, dy: 0 },
    ArrowRight: { dx: by, dy: 0 },
    ArrowUp: { dx: 0, dy: -by },
    ArrowDown: { dx: 0, dy: by },
  };
  return moves[event.key];
}
