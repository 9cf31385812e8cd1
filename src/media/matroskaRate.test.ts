import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { sayRate } from './matroskaRate';
import { probe } from './probe';

let folder = '';
const at = (name: string): string => path.join(folder, name);

beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'wairetic-rate-'));
  const picture = ['-f', 'lavfi', '-i', 'testsrc2=size=64x48:rate=60000/1001:duration=0.2', '-f', 'lavfi', '-i', 'sine=duration=0.2'];
  execFileSync('ffmpeg', ['-nostdin', '-v', 'error', ...picture, '-c:v', 'ffv1', '-c:a', 'flac', at('film.mkv')]);
});
afterAll(() => rmSync(folder, { recursive: true }));

/** The video's duration of a frame. */
const said = (file: string): number => {
  const bytes = readFileSync(file);
  const from = bytes.indexOf(Buffer.from([0x23, 0xe3, 0x83]));
  return bytes.readUIntBE(from + 4, bytes[from + 3] & 0x7f);
};

describe('sayRate', () => {
  it.each([
    [60000, 1001, 16683333],
    [19001, 317, 16683332],
    [240, 4, 16666667],
  ])('%i/%i is %i nanoseconds a frame', async (num, den, nanoseconds) => {
    copyFileSync(at('film.mkv'), at('copy.mkv'));
    expect(await sayRate(at('copy.mkv'), { num, den })).toBe(true);
    expect(said(at('copy.mkv'))).toBe(nanoseconds);
    expect(readFileSync(at('copy.mkv')).length).toBe(readFileSync(at('film.mkv')).length);
  });

  it('leaves a rate that the place has no room for', async () => {
    copyFileSync(at('film.mkv'), at('copy.mkv'));
    expect(await sayRate(at('copy.mkv'), { num: 1, den: 1 })).toBe(false);
    expect(said(at('copy.mkv'))).toBe(16683333);
  });

  it('leaves a file alone that is none, or damaged', async () => {
    for (const content of [Buffer.alloc(0), Buffer.alloc(500, 7), readFileSync(at('film.mkv')).subarray(0, 60)]) {
      writeFileSync(at('other'), content);
      expect(await sayRate(at('other'), { num: 25, den: 1 })).toBe(false);
      expect(readFileSync(at('other'))).toEqual(content);
    }
  });
});

it('probe takes the rate that Matroska means', async () => {
  expect((await probe(at('film.mkv'))).facts.stream.rate).toEqual({ num: 60000, den: 1001 });
});
