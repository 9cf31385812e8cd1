import { expect, it } from 'vitest';
import { letGo } from './letGo';

it('gives back what nobody holds, and nothing else', () => {
  const held = new Uint16Array(1 << 22).fill(7);
  letGo();
  const before = process.memoryUsage().arrayBuffers;
  (() => new Uint16Array(1 << 25).fill(1))();
  expect(process.memoryUsage().arrayBuffers - before).toBeGreaterThan(60e6);
  letGo();
  expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(1e6);
  expect(held[5]).toBe(7);
});
