import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { probe } from './probe';
import sharp from 'sharp';
import { lumaStep, numbersTold } from './quantiser';

const work = mkdtempSync(path.join(tmpdir(), 'wairetic-quantiser-'));
afterAll(() => rmSync(work, { recursive: true }));

/** The step of a second of pattern, coded so. */
async function stepOf(name: string, ...encoder: string[]): Promise<number | undefined> {
  const file = path.join(work, name);
  execFileSync('ffmpeg', ['-v', 'error', '-f', 'lavfi', '-i', 'testsrc2=s=176x144:r=25:d=1', ...encoder, file]);
  return (await probe(file)).facts.codedStep;
}

describe('what a codec tells of its quantiser', () => {
  it('comes in the unit of the treatments', async () => {
    expect(await stepOf('a.mpg', '-c:v', 'mpeg2video', '-qscale:v', '10')).toBeCloseTo(22, 3);
    expect(await stepOf('a.avi', '-c:v', 'mpeg4', '-qscale:v', '7')).toBeCloseTo(14, 3);
    // H.264 spends less on B frames and more on the first.
    const told = (await stepOf('a.mp4', '-c:v', 'libx264', '-qp', '34')) ?? 0;
    expect(told).toBeGreaterThan(0.25 * 2 ** (31 / 6) - 0.01);
    expect(told).toBeLessThan(0.25 * 2 ** (37 / 6));
  });

  it('is nothing for a codec that does not tell', async () => {
    expect(await stepOf('a.mkv', '-c:v', 'ffv1')).toBeUndefined();
  });

  it('stands in the tables of a JPEG', async () => {
    const plain = sharp({ create: { width: 32, height: 32, channels: 3, background: '#775533' } });
    const file = path.join(work, 'a.jpg');
    await plain.jpeg({ quality: 50 }).toFile(file);
    // Annex K of T.81 as it stands: 11, 12, 14, 12, 10, 14, 13.
    expect((await probe(file)).facts.codedStep).toBeCloseTo(86 / 7, 3);
    await plain.png().toFile(path.join(work, 'a.png'));
    expect((await probe(path.join(work, 'a.png'))).facts.codedStep).toBeUndefined();
  });

  it('is nothing in a head without tables, or cut off within one', () => {
    expect(lumaStep(Buffer.from('ffd8ffda0008', 'hex'))).toBeUndefined();
    expect(lumaStep(Buffer.from('ffd8ffdb004300101010', 'hex'))).toBeUndefined();
    expect(lumaStep(Buffer.alloc(0))).toBeUndefined();
  });

  it('is read from rows of two characters a macroblock, and from nothing else', () => {
    const report = '[h264 @ 0x1] 34 83434\n[h264 @ 0x1] no frame!\n[mov @ 0x2] 1212\n[h264 @ 0x1] 36';
    expect(numbersTold(report, 'h264')).toEqual([8, 34, 34, 34, 36]);
  });
});
