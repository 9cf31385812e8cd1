import { describe, expect, it } from 'vitest';
import { ENTRIES, lightTables, plainTables, TRANSFERS } from './light';

describe('transfers', () => {
  it('have the published values', () => {
    // IEC 61966-2-1: code 0.5 is 0.2140 of light; ITU-R BT.709: light 0.5 is code 0.7055, light 0.018 is 0.081.
    expect(TRANSFERS.srgb.toLight(0.5)).toBeCloseTo(0.21404, 4);
    expect(TRANSFERS.srgb.fromLight(0.18)).toBeCloseTo(0.46136, 4);
    expect(TRANSFERS.video.fromLight(0.5)).toBeCloseTo(0.70551, 3);
    expect(TRANSFERS.video.fromLight(0.018)).toBeCloseTo(0.081, 3);
  });

  it('undo themselves, without a step where their parts meet', () => {
    for (const { toLight, fromLight } of Object.values(TRANSFERS)) {
      for (let v = 0; v <= 1; v += 0.001) expect(fromLight(toLight(v))).toBeCloseTo(v, 6);
      for (let v = 0.001; v <= 1; v += 0.001) expect(toLight(v)).toBeGreaterThan(toLight(v - 0.001));
    }
  });
});

describe('lightTables', () => {
  it('bring every code back to itself, also beyond black and white', () => {
    for (const tables of [lightTables('limited', 'video'), lightTables('full', 'srgb'), plainTables()]) {
      for (let code = 0; code < 65536; code += 7) {
        const index = Math.round(Math.sqrt(tables.toLight[code]) * (ENTRIES - 1));
        expect(Math.abs(tables.fromLight[index] - code)).toBeLessThanOrEqual(12);
      }
    }
  });
});
