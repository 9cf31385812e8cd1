import { useCallback, useEffect, useRef, type MouseEvent, type PointerEvent, type RefObject } from 'react';
import { clamp01, fractionAt, loupePart, panned, placePicture, zoomAt, type Placement, type Size } from './geometry';
import { useBenchStore } from '../state/store';

/** Wheel notch to zoom factor; a pinch on a trackpad comes as a wheel with Control and small steps. */
const WHEEL = 1.0015,
  PINCH = 1.01;

/** The wheel zooms at the pointer. */
export function useWheelZoom(stage: RefObject<HTMLDivElement | null>, room: Size): void {
  const bench = useBenchStore();
  const latest = useRef(room);
  useEffect(() => {
    latest.current = room;
  });
  useEffect(() => {
    const element = stage.current as HTMLDivElement;
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      const { output, view } = bench.getState();
      const box = element.getBoundingClientRect();
      const space = latest.current;
      let x = event.clientX - box.left;
      if (space.width < box.width - 1 && x > space.width) x -= box.width - space.width;
      const now = placePicture(output, space, view).scale;
      const factor = (event.ctrlKey ? PINCH : WHEEL) ** -event.deltaY;
      bench.setState({ view: zoomAt(output, space, view, x, event.clientY - box.top, now * factor) });
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [bench, stage]);
}

interface Point {
  x: number;
  y: number;
}

/**
 * Dragging pans; starting inside the loupe's frame, it carries the loupe. Two fingers zoom about their middle. A double click
 * brings the loupe there.
 * @param point told the fraction of the output under the pointer, or nothing beside the picture.
 */
export function useDrag(size: Size, room: Size, at: Placement, point: (p: { u: number; v: number } | undefined) => void) {
  const bench = useBenchStore();
  const down = useRef(new Map<number, Point>());
  const carriesLoupe = useRef(false);
  const local = useCallback(
    (event: { clientX: number; clientY: number; currentTarget: Element }): Point => {
      const box = event.currentTarget.getBoundingClientRect();
      let x = event.clientX - box.left;
      if (room.width < size.width && x > room.width) x -= size.width - room.width;
      return { x, y: event.clientY - box.top };
    },
    [room, size],
  );
  const pinch = (id: number, to: Point): void => {
    const { output, view } = bench.getState();
    const [from, other] = [down.current.get(id) as Point, [...down.current].find(([k]) => k !== id)?.[1] as Point];
    const spread = (p: Point): number => Math.max(8, Math.hypot(p.x - other.x, p.y - other.y));
    const middle = { x: (to.x + other.x) / 2, y: (to.y + other.y) / 2 };
    const scale = placePicture(output, room, view).scale * (spread(to) / spread(from));
    const zoomed = zoomAt(output, room, view, middle.x, middle.y, scale);
    bench.setState({ view: panned(output, room, zoomed, (to.x - from.x) / 2, (to.y - from.y) / 2) });
  };
  const lift = (event: PointerEvent<HTMLDivElement>): void => void down.current.delete(event.pointerId);
  return {
    onPointerDown: (event: PointerEvent<HTMLDivElement>) => {
      if (event.button !== 0) return;
      const here = local(event);
      const { u, v } = fractionAt(at, here.x, here.y);
      const { output, loupe } = bench.getState();
      const box = loupePart(output, loupe.u, loupe.v);
      carriesLoupe.current = u >= box.x && v >= box.y && u <= box.x + box.width && v <= box.y + box.height;
      down.current.set(event.pointerId, here);
      event.currentTarget.setPointerCapture(event.pointerId);
    },
    onPointerMove: (event: PointerEvent<HTMLDivElement>) => {
      const here = local(event);
      const f = fractionAt(at, here.x, here.y);
      point(f.u >= 0 && f.v >= 0 && f.u <= 1 && f.v <= 1 ? f : undefined);
      const from = down.current.get(event.pointerId);
      if (!from) return;
      const { output, view, loupe } = bench.getState();
      if (down.current.size > 1) pinch(event.pointerId, here);
      else if (carriesLoupe.current)
        bench.setState({
          loupe: { u: clamp01(loupe.u + (here.x - from.x) / at.width), v: clamp01(loupe.v + (here.y - from.y) / at.height) },
        });
      else bench.setState({ view: panned(output, room, view, here.x - from.x, here.y - from.y) });
      down.current.set(event.pointerId, here);
    },
    onPointerUp: lift,
    onPointerCancel: lift,
    onPointerLeave: () => point(undefined),
    onDoubleClick: (event: MouseEvent<HTMLDivElement>) => {
      const { x, y } = local(event);
      const { u, v } = fractionAt(at, x, y);
      bench.setState({ loupe: { u: clamp01(u), v: clamp01(v) } });
    },
  };
}
