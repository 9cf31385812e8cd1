import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { keepDocument } from './documents';
import { keepPicture, readPicture } from './pictures';
import { keepReference, readReference } from './references';

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

  it('of a face come back with its mesh, and say where they are from', async () => {
    const data = Uint16Array.from({ length: 3 * 6 * 5 }, (_, i) => 600 * i);
    const mesh = Float32Array.from({ length: 936 }, (_, i) => (i % 60) / 10);
    const hash = await keepReference(folder, { data, width: 6, height: 5, mesh }, { name: 'Quay.tif', item: 'a', year: 1921 });
    const back = await readPicture(folder, hash);
    expect([...back.data]).toEqual([...data]);
    back.mesh?.forEach((v, i) => expect(v).toBeCloseTo(mesh[i], 4));
    expect((await readReference(folder, hash)).from).toEqual({ name: 'Quay.tif', item: 'a', year: 1921 });
    const plain = await keepPicture(folder, { data, width: 6, height: 5 });
    await expect(readReference(folder, plain)).rejects.toThrow('is no picture of a face');
  });

  it('that are none, or not there, are told', async () => {
    const list = await keepDocument(folder, Buffer.from('{}'));
    await expect(readPicture(folder, list)).rejects.toThrow('is no picture');
    await expect(readPicture(folder, 'a'.repeat(64))).rejects.toThrow('not in this archive');
  });
});
