import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { toRgb, wholeRegion } from '../../core';
import { randomStream } from '../../core/picture/random';
import { openSource } from '../openSource';
import { tagProfile } from '../metadata';
import { probe } from '../probe';
import { writeStill } from '../stillOutput';
import { profileOf } from './spaces';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(path.join(tmpdir(), 'kept-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));
const at = (name: string): string => path.join(folder, name);

/** Many colours that sRGB does not have. */
const random = randomStream(11);
const samples = Uint16Array.from({ length: 3 * 32 * 24 }, () => Math.floor(random() * 65536));

async function scan(name: string, space: 'wide' | 'display-p3', given: Uint8Array | Uint16Array = samples): Promise<string> {
  await sharp(given, { raw: { width: 32, height: 24, channels: 3 } })
    .toColourspace(given instanceof Uint8Array ? 'srgb' : 'rgb16')
    .tiff({ compression: 'none' })
    .toFile(at(name));
  await tagProfile(at(name), profileOf(space));
  return at(name);
}

const codesOf = async (file: string): Promise<Uint16Array> => {
  const data = await sharp(file, { ignoreIcc: true }).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
  return new Uint16Array(data.buffer, data.byteOffset, data.length / 2);
};
const farthest = (a: ArrayLike<number>, b: ArrayLike<number>): number =>
  Array.from(a).reduce((worst, v, i) => Math.max(worst, Math.abs(v - b[i])), 0);

describe('colours that sRGB does not have', () => {
  it.each(['wide', 'display-p3'] as const)('of %s stay what they were, with their profile', async (space) => {
    const file = await scan(`${space}.tif`, space);
    const probed = await probe(file);
    expect(probed.facts.profile?.name).toContain(space === 'wide' ? 'BT.2020' : 'Display P3');
    const source = await openSource(file, file, probed);
    const picture = await source.frame(0, wholeRegion(source.info));
    // Through luma and chroma and back, a code of 65536 is off by a few.
    expect(farthest(toRgb(picture, 16), samples)).toBeLessThan(8);
    await writeStill(picture, at(`${space} out.tif`), { kind: 'tiff', space: 'source' }, { ppi: 300, facts: probed.facts });
    expect(farthest(await codesOf(at(`${space} out.tif`)), samples)).toBeLessThan(8);
    expect((await sharp(at(`${space} out.tif`)).metadata()).icc).toEqual(profileOf(space));
  });

  it('are brought into other spaces as colour management does it', async () => {
    const file = await scan(
      'convert.tif',
      'display-p3',
      Uint8Array.from(samples, (v) => v >> 8),
    );
    const probed = await probe(file);
    const source = await openSource(file, file, probed);
    const picture = await source.frame(0, wholeRegion(source.info));
    await writeStill(picture, at('srgb.png'), { kind: 'png', space: 'srgb' }, { ppi: 300, facts: probed.facts });
    const theirs = await sharp(file).toColourspace('srgb').raw().toBuffer();
    const ours = await sharp(at('srgb.png'), { ignoreIcc: true }).raw().toBuffer();
    expect(farthest(ours, theirs)).toBeLessThanOrEqual(2);
    expect((await sharp(at('srgb.png')).metadata()).icc).toEqual(profileOf('srgb'));
  });

  it('greys are tagged as greys', async () => {
    await sharp(
      Uint8Array.from({ length: 300 }, (_, i) => i % 256),
      { raw: { width: 20, height: 15, channels: 1 } },
    )
      .toColourspace('b-w')
      .png()
      .toFile(at('grey.png'));
    const probed = await probe(at('grey.png'));
    const source = await openSource(at('grey.png'), 'grey', probed);
    await writeStill(
      await source.frame(0, wholeRegion(source.info)),
      at('grey out.png'),
      { kind: 'png', space: 'source' },
      { ppi: 300, facts: probed.facts },
    );
    expect((await sharp(at('grey out.png')).metadata()).icc?.subarray(16, 20).toString()).toBe('GRAY');
  });
});
