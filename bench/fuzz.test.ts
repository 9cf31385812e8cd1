import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, expect, it } from 'vitest';
import { fuzz } from './fuzz';

const work = mkdtempSync(path.join(tmpdir(), 'wairetic-fuzz-'));
afterAll(() => rmSync(work, { recursive: true }));

it('300 damaged files are taken in or refused with a sentence, soon and in little memory', async () => {
  const { taken, refused, faults, slowest, memory } = await fuzz(work, 300, 1921);
  expect(faults).toEqual([]);
  expect(taken + refused).toBe(300);
  expect(refused).toBeGreaterThan(20);
  expect(taken).toBeGreaterThan(20);
  expect(slowest).toBeLessThan(30);
  expect(memory).toBeLessThan(2 ** 30);
}, 400_000);
