import { describe, expect, it } from 'vitest';
import { atLeast } from './doubt';

describe('atLeast', () => {
  it('is a doubt below the reading, and never below nothing', () => {
    expect(atLeast({ value: 7, doubt: 1 })).toBe(3);
    expect(atLeast({ value: 0.2, doubt: 2 })).toBe(0);
  });
});
