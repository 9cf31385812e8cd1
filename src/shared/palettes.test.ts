import { describe, expect, it } from 'vitest';
import { PALETTES } from './palettes';

describe('palettes', () => {
  it('name each colour once, in six digits, and where they are from', () => {
    expect(new Set(PALETTES.map(({ id }) => id)).size).toBe(PALETTES.length);
    for (const { colours, source } of PALETTES) {
      expect(source.length).toBeGreaterThan(10);
      expect(new Set(colours.map(({ name }) => name)).size).toBe(colours.length);
      for (const { value } of colours) expect(value).toMatch(/^#[0-9a-f]{6}$/);
    }
  });
});
