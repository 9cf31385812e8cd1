import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { keepDocument } from './documents';
import { keepPicture, readPicture } from './pictures';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(path.join(os.tmpdir(), 'wairetic-laid-'));
});
afterAll(() => rm(folder, { recursive: true }));

describe('pictures that are laid in', () => {
  it('come back as they were kept', async () => {
    const pixels = Uint8Array.from({ length: 4 * 6 * 5 }, (_, i) => (i % 4 === 3 ? 255 : (37 * i) % 256));
    const hash = await keepPicture(folder, { data: pixels, width: 6, height: 5 });
    const { width, height, data } = await readPicture(folder, hash);
    expect([width, height]).toEqual([6, 5]);
    expect([...data]).toEqual([...pixels].filter((_, i) => i % 4 < 3).map((v) => v * 257));
  });

  it('of 16 bits come back with all of them', async () => {
    const data = Uint16Array.from({ length: 3 * 6 * 5 }, (_, i) => (7919 * i) % 65536);
    const { data: back } = await readPicture(folder, await keepPicture(folder, { data, width: 6, height: 5 }));
    expect([...back]).toEqual([...data]);
  });

  it('that are none, or not there, are told', async () => {
    const list = await keepDocument(folder, Buffer.from('{}'));
    await expect(readPicture(folder, list)).rejects.toThrow('is no picture');
    await expect(readPicture(folder, 'a'.repeat(64))).rejects.toThrow('not in this archive');
  });
});
