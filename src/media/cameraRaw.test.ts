import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { isCameraRaw } from './cameraRaw';

/** A TIFF header whose first directory has these tags. */
function tiff(tags: [number, number][], little = true, mark = ''): Buffer {
  const out = Buffer.alloc(32 + 12 * tags.length);
  out.write(little ? 'II' : 'MM', 'latin1');
  const short = (v: number, at: number): unknown => (little ? out.writeUInt16LE(v, at) : out.writeUInt16BE(v, at));
  const long = (v: number, at: number): unknown => (little ? out.writeUInt32LE(v, at) : out.writeUInt32BE(v, at));
  short(42, 2);
  long(16, 4);
  out.write(mark, 8, 'latin1');
  short(tags.length, 16);
  tags.forEach(([tag, value], n) => {
    short(tag, 18 + 12 * n);
    short(4, 20 + 12 * n);
    long(1, 22 + 12 * n);
    long(value, 26 + 12 * n);
  });
  return out;
}

describe('a camera’s raw file', () => {
  it.each([
    ['DNG', tiff([[50_706, 0x01040000]])],
    ['DNG, big end first', tiff([[50_706, 0x01040000]], false)],
    ['CR2', tiff([[256, 100]], true, 'CR\x02\0')],
    [
      'others',
      tiff([
        [254, 1],
        [330, 5000],
      ]),
    ],
  ])('is told: %s', (_, head) => expect(isCameraRaw(head)).toBe(true));

  it('is not what a scanner writes, nor what is cut off', async () => {
    const scan = await sharp({ create: { width: 8, height: 8, channels: 3, background: 'red' } })
      .tiff({ pyramid: true, tile: true })
      .toBuffer();
    expect(isCameraRaw(scan)).toBe(false);
    const head = tiff([[256, 100]]);
    for (let length = 0; length < head.length; length++) expect(isCameraRaw(head.subarray(0, length))).toBe(false);
  });
});
