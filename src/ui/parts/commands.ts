import { useEffect, useId, useLayoutEffect } from 'react';
import { create } from 'zustand';

/** Something that can be done by name, and perhaps by a key. */
export interface Command {
  /** Names it among the others of its place. */
  id: string;
  /** As it is called in the palette and in the list of keys. */
  name: string;
  group: string;
  /** Key as `event.key` in lower case; with `ctrl+`, `shift+` before it. */
  keys?: string[];
  /** The keys as they are written in lists. */
  shown?: string;
  run(event?: KeyboardEvent): void;
  /** Left out where nothing ends with the key. */
  released?(): void;
}

interface CommandState {
  /** Commands of whatever is on screen, by the part that brought them. */
  known: Record<string, Command[]>;
  /** The palette is open. */
  finding: boolean;
  /** The list of keys is open. */
  listing: boolean;
}

export const useCommandState = create<CommandState>()(() => ({ known: {}, finding: false, listing: false }));

/** Brings commands while the caller is on screen. Keep the list stable: it is compared by identity. */
export function useCommands(commands: Command[]): void {
  const id = useId();
  // Keys work as soon as what they are for is seen.
  useLayoutEffect(() => {
    useCommandState.setState(({ known }) => ({ known: { ...known, [id]: commands } }));
    return () =>
      useCommandState.setState(({ known }) => {
        const rest = Object.entries(known).filter(([key]) => key !== id);
        return { known: Object.fromEntries(rest) };
      });
  }, [id, commands]);
}

/** Commands by their groups, in the order they come. */
export function grouped<C extends Command>(commands: C[]): Map<string, C[]> {
  const groups = new Map<string, C[]>();
  for (const command of commands) groups.set(command.group, [...(groups.get(command.group) ?? []), command]);
  return groups;
}

/** The key a command is found under. */
export function keyOf(event: KeyboardEvent): string {
  const key = event.key.toLowerCase();
  const ctrl = event.ctrlKey || event.metaKey ? 'ctrl+' : '';
  // Signs such as ? are made with Shift already.
  const shift = event.shiftKey && (key.length > 1 || /[a-z]/.test(key)) ? 'shift+' : '';
  return `${ctrl}${event.altKey ? 'alt+' : ''}${shift}${key}`;
}

/** Whether keys go into a field. */
export const typing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) && (target as HTMLInputElement).type !== 'checkbox'));

/** Listens to the keys of all known commands; they rest while a dialog is open or a field is typed in. */
export function useCommandKeys(): void {
  useEffect(() => {
    const all = (): Command[] => Object.values(useCommandState.getState().known).flat();
    const down = (event: KeyboardEvent): void => {
      if (event.defaultPrevented || document.querySelector('[role="dialog"]')) return;
      const key = keyOf(event);
      if (typing(event.target) && !key.startsWith('ctrl+k')) return;
      const command = all().find((c) => c.keys?.includes(key));
      if (!command) return;
      event.preventDefault();
      command.run(event);
    };
    const up = (event: KeyboardEvent): void => {
      const key = event.key.toLowerCase();
      all()
        .find((c) => c.released && c.keys?.includes(key))
        ?.released?.();
    };
    const away = (): void => all().forEach((c) => c.released?.());
    window.addEventListener('keydown', down);
    window.addEventListener('keyup', up);
    window.addEventListener('blur', away);
    return () => {
      window.removeEventListener('keydown', down);
      window.removeEventListener('keyup', up);
      window.removeEventListener('blur', away);
    };
  }, []);
}
