import { useLayoutEffect, useState, type RefObject } from 'react';

/** The inner size of an element in pixels, kept as it changes; 0 by 0 until it is there. */
export function useSize(element: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useLayoutEffect(() => {
    const box = element.current as HTMLElement;
    const watch = new ResizeObserver(() => setSize({ width: box.clientWidth, height: box.clientHeight }));
    watch.observe(box);
    return () => watch.disconnect();
  }, [element]);
  return size;
}
