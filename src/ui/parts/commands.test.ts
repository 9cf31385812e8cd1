import { describe, expect, it } from 'vitest';
import { keyOf } from './commands';

const key = (part: Partial<KeyboardEvent>): string =>
  keyOf({ ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...part } as KeyboardEvent);

describe('keyOf', () => {
  it('names keys with what is held', () => {
    expect(key({ key: 'j' })).toBe('j');
    expect(key({ key: 'Z', ctrlKey: true, shiftKey: true })).toBe('ctrl+shift+z');
    expect(key({ key: 'z', metaKey: true })).toBe('ctrl+z');
    expect(key({ key: 'ArrowLeft', shiftKey: true })).toBe('shift+arrowleft');
  });

  it('takes a sign as it is, however it is typed', () => {
    expect(key({ key: '?', shiftKey: true })).toBe('?');
    expect(key({ key: '?' })).toBe('?');
  });
});
