import { describe, expect, it } from 'vitest';
import type { SettingSpec } from '../../core';
import { shownValue } from '../../shared/settings';

const spec = (part: Partial<SettingSpec>): SettingSpec => ({ key: 'k', kind: 'number', label: 'K', help: '', default: 0, ...part });

describe('shownValue', () => {
  it('writes numbers with their unit, choices by their label, flags as a switch', () => {
    expect(shownValue(spec({ unit: 'σ' }), 3.5)).toBe('3.5 σ');
    expect(shownValue(spec({}), 7)).toBe('7');
    expect(shownValue(spec({ kind: 'choice', options: [{ value: 'bars', label: 'add bars' }] }), 'bars')).toBe('add bars');
    expect(shownValue(spec({ kind: 'flag' }), false)).toBe('off');
    expect(shownValue(undefined, 'x')).toBe('x');
  });
});
