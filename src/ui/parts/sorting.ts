import { KeyboardSensor, PointerSensor, useSensor, useSensors, type Announcements } from '@dnd-kit/core';
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable';

/** How a list is put in another order: by dragging, past the tremor of a click, and by space and arrow keys. */
export function useSortingSensors() {
  return useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
}

/**
 * What a screen reader says while something is moved in a list.
 * @param ids of all that is in it, in order.
 * @param name of one, as it is shown.
 */
export function sortingAnnouncements(ids: string[], name: (id: string | number) => string): Announcements {
  const place = (id: string | number): string => `place ${ids.indexOf(String(id)) + 1} of ${ids.length}`;
  return {
    onDragStart: ({ active }) => `${name(active.id)} is lifted from ${place(active.id)}.`,
    onDragOver: ({ active, over }) => (over ? `${name(active.id)} is held at ${place(over.id)}.` : undefined),
    onDragEnd: ({ active, over }) => `${name(active.id)} is set down at ${place(over?.id ?? active.id)}.`,
    onDragCancel: ({ active }) => `${name(active.id)} stays at ${place(active.id)}.`,
  };
}
