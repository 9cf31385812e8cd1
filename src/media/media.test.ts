import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, truncateSync, writeFileSync, readFileSync, copyFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import fc from 'fast-check';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Picture, type StreamInfo, wholeRegion } from '../core';
import { picture, streamInfo } from '../core/testing/pictures';
import { accessCodec, masterCodec, VideoEncoder } from './encode';
import { onEvenLine, presentationTimes, withoutLeaps } from './frameIndex';
import { openSource } from './openSource';
import { probe } from './probe';
import { writeStill } from './stillOutput';

let folder = '';
const at = (name: string): string => path.join(folder, name);
const ffmpeg = (...args: string[]): Buffer => execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);

beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'wairetic-media-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

/** Writes frames of a stream losslessly and gives the file. */
async function written(info: StreamInfo, name: string, frames: Picture[]): Promise<string> {
  const encoder = new VideoEncoder(info, [{ path: at(name), format: 'matroska', codec: masterCodec(info) }]);
  for (const frame of frames) await encoder.write(frame);
  await encoder.finish();
  return at(name);
}

describe('probe', () => {
  it('tells the facts of broadcast and disc formats exactly', async () => {
    const make = (name: string, size: string, rate: string, ...rest: string[]): string => {
      ffmpeg('-f', 'lavfi', '-i', `testsrc2=size=${size}:rate=${rate}:duration=0.5`, ...rest, at(name));
      return at(name);
    };
    const dvd = (
      await probe(
        make(
          'dvd.mpg',
          '720x480',
          '30000/1001',
          '-c:v',
          'mpeg2video',
          '-flags',
          '+ilme+ildct',
          '-top',
          '1',
          '-vf',
          'setsar=8/9,setfield=tff',
        ),
      )
    ).facts;
    expect(dvd).toMatchObject({ kind: 'moving', codec: 'mpeg2video', variableRate: false, damage: [] });
    expect(dvd.stream).toMatchObject({
      frames: 15,
      rate: { num: 30000, den: 1001 },
      pixelAspect: { num: 8, den: 9 },
      colour: { matrix: 'bt601', range: 'limited', primaries: 'smpte170m' },
    });
    const dv = (await probe(make('tape.dv', '720x576', '25', '-pix_fmt', 'yuv420p', '-target', 'pal-dv'))).facts;
    expect(dv.stream).toMatchObject({
      width: 720,
      height: 576,
      rate: { num: 25, den: 1 },
      chromaShiftX: 1,
      chromaShiftY: 1,
      colour: { primaries: 'bt470bg' },
    });
    const deep = (await probe(make('deep.mov', '320x240', '24', '-c:v', 'prores_ks', '-pix_fmt', 'yuv422p10le'))).facts;
    expect(deep.stream).toMatchObject({ depth: 10, chromaShiftX: 1, chromaShiftY: 0 });
    for (const [name, codec] of [
      ['a.avi', 'mjpeg'],
      ['a.webm', 'libvpx'],
      ['a.m2ts', 'libx264'],
      ['a.mp4', 'libx264'],
    ]) {
      expect(
        (await probe(make(name, '160x120', '25', '-c:v', codec, '-pix_fmt', codec === 'mjpeg' ? 'yuvj420p' : 'yuv420p'))).facts.stream
          .width,
      ).toBe(160);
    }
  });

  it('refuses in words what is no picture and no video', async () => {
    writeFileSync(at('empty.mp4'), '');
    writeFileSync(at('words.bin'), 'once upon a time '.repeat(400));
    ffmpeg('-f', 'lavfi', '-i', 'sine=duration=0.3', at('sound.wav'));
    ffmpeg('-f', 'lavfi', '-i', 'testsrc2=size=160x120:duration=1', '-c:v', 'libx264', at('whole.mp4'));
    copyFileSync(at('whole.mp4'), at('cut.mp4'));
    truncateSync(at('cut.mp4'), 3000);
    const words = (name: string) => probe(at(name)).catch((error: Error) => `${error.name}: ${error.message}`);
    expect(await words('empty.mp4')).toBe('MediaError: The file is empty.');
    expect(await words('words.bin')).toContain('no picture and no video');
    expect(await words('sound.wav')).toBe('MediaError: The file holds sound but no picture.');
    expect(await words('cut.mp4')).toContain('cut off');
  });

  it('never follows a playlist to other files or hosts', async () => {
    writeFileSync(at('list.m3u8'), '#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\nhttp://127.0.0.1:9/x.ts\n#EXT-X-ENDLIST\n');
    await expect(probe(at('list.m3u8'))).rejects.toThrow('list of other files');
  });
});

describe('onEvenLine', () => {
  const times = (count: number, step: number, jitter = 0): Float64Array =>
    Float64Array.from({ length: count }, (_, n) => n * step + jitter * Math.sin(n * 12.9));
  it('recognises the rate the frames follow, through rounded time stamps', () => {
    const rounded = times(300, 1001 / 30000).map((t) => Math.round(t * 1000) / 1000);
    expect(onEvenLine(rounded, [{ num: 30, den: 1 }])).toMatchObject({ frames: 300, rate: { num: 30000, den: 1001 } });
    expect(onEvenLine(times(50, 0.04), [{ num: 25, den: 1 }])).toMatchObject({ frames: 50, rate: { num: 25, den: 1 }, firstTime: 0 });
  });
  it('puts uneven frames on an even line by nearest time', () => {
    const gap = Float64Array.from([0, 0.04, 0.08, 0.2, 0.24, 0.28]);
    const line = onEvenLine(gap, [{ num: 25, den: 1 }]);
    expect(line.frames).toBe(8);
    expect([...(line.map ?? [])]).toEqual([0, 1, 2, 2, 3, 3, 4, 5]);
  });
});

describe('withoutLeaps', () => {
  it('closes gaps that damaged stamps make, and keeps the times of the longest stretch', () => {
    const film = Float64Array.from({ length: 22 }, (_, n) => n / 25 + (n < 3 ? 0 : n < 20 ? 100 : 38_170));
    const { closed, leaps } = withoutLeaps(film);
    expect(leaps).toBe(2);
    closed.forEach((t, n) => expect(t).toBeCloseTo(100 + n / 25));
    expect(onEvenLine(closed, [{ num: 25, den: 1 }])).toMatchObject({ frames: 22, rate: { num: 25, den: 1 } });
  });

  it('leaves pictures that stand for long', () => {
    const slides = Float64Array.from([0, 8, 20, 45]);
    expect(withoutLeaps(slides)).toEqual({ closed: slides, leaps: 0 });
  });

  it('never has more frames than the steps between them allow', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0.001, max: 1e6, noNaN: true }), { minLength: 2, maxLength: 40 }), (steps) => {
        const times = Float64Array.from(steps.reduce<number[]>((all, step) => [...all, all[all.length - 1] + step], [0]));
        const { closed } = withoutLeaps(times);
        closed.forEach((t, n) => n > 0 && expect(t).toBeGreaterThan(closed[n - 1] - 1e-6));
        expect(closed[closed.length - 1] - closed[0]).toBeLessThanOrEqual(30 * steps.length + 1e-3);
      }),
    );
  });
});

describe('presentationTimes', () => {
  it('fills in the stamps a demuxer could not read', () => {
    const packets = [{ pts: 200, dts: 100 }, { pts: 300, dts: 200 }, { pts: 400, dts: 300 }, { dts: 400 }];
    expect(presentationTimes(packets)).toEqual([200, 300, 400, 500]);
    expect(presentationTimes([{}, { pts: 5, dts: 5 }])).toEqual([undefined, 5]);
    // With reordering, at the one time that is free.
    expect(
      presentationTimes([{ pts: 3, dts: 0 }, { pts: 1, dts: 1 }, { pts: 2, dts: 2 }, { pts: 6, dts: 3 }, { pts: 4, dts: 4 }, { dts: 5 }]),
    ).toEqual([3, 1, 2, 6, 4, 5]);
  });
});

describe('decoding and lossless encoding', () => {
  for (const [name, part] of [
    ['8 bit 4:2:0', {}],
    ['10 bit 4:2:2', { depth: 10, chromaShiftY: 0 }],
    ['16 bit 4:4:4 full', { depth: 16, chromaShiftX: 0, chromaShiftY: 0, colour: { ...streamInfo().colour, range: 'full' } }],
    ['monochrome', { planes: 1 }],
  ] as [string, Partial<StreamInfo>][]) {
    it(`gives ${name} back sample by sample, at any frame`, async () => {
      const info = streamInfo({ width: 64, height: 48, frames: 12, ...part });
      const coarse = (p: Picture): Picture => {
        const step = 2 ** (16 - Math.min(16, info.depth));
        return {
          ...p,
          planes: p.planes.map((plane) => ({
            ...plane,
            data: plane.data.map((v) => (info.colour.range === 'full' && info.depth < 16 ? v : Math.floor(v / step) * step)),
          })),
        };
      };
      const frames = Array.from({ length: 12 }, (_, n) => coarse(picture(info, n)));
      const file = await written(info, `${name.replaceAll(/[ :]/g, '-')}.mkv`, frames);
      const source = await openSource(file, name);
      expect(source.info).toMatchObject({
        frames: 12,
        depth: info.depth,
        chromaShiftX: info.planes === 1 ? 0 : info.chromaShiftX,
        planes: info.planes,
      });
      for (const n of [0, 1, 2, 11, 5, 6, 0]) {
        const got = await source.frame(n, wholeRegion(info));
        got.planes.forEach((plane, i) => expect(plane.data).toEqual(frames[n].planes[i].data));
      }
      source.close?.();
    });
  }

  it('tags what it writes, and writes slices with checksums', async () => {
    const info = streamInfo({
      width: 64,
      height: 48,
      frames: 3,
      fieldOrder: 'top-first',
      pixelAspect: { num: 8, den: 9 },
      rate: { num: 30000, den: 1001 },
    });
    const file = await written(
      info,
      'tags.mkv',
      [0, 1, 2].map((n) => picture(info, n)),
    );
    const told = execFileSync('ffprobe', ['-v', 'error', '-show_streams', '-of', 'flat', file]).toString();
    for (const tag of [
      'color_space="smpte170m"',
      'color_primaries="smpte170m"',
      'color_range="tv"',
      'field_order="tt"',
      'sample_aspect_ratio="8:9"',
    ])
      expect(told).toContain(tag);
    // One flipped byte in the middle of a frame is noticed by its slice's checksum.
    const bytes = readFileSync(file);
    bytes[Math.floor(bytes.length * 0.6)] ^= 0x55;
    writeFileSync(at('flipped.mkv'), bytes);
    const complaints = execFileSync('sh', ['-c', `ffmpeg -v error -i '${at('flipped.mkv')}' -f null - 2>&1 || true`]).toString();
    expect(complaints).toMatch(/CRC|slice/i);
  });

  it('reports an encoder that cannot write', async () => {
    const info = streamInfo({ frames: 2 });
    const encoder = new VideoEncoder(info, [{ path: at('no/such/folder.mkv'), format: 'matroska', codec: accessCodec(info) }]);
    await expect(
      (async () => {
        for (let n = 0; n < 50; n++) await encoder.write(picture(info, n));
        await encoder.finish();
      })(),
    ).rejects.toThrow('The encoder stopped');
  });
});

describe('stills', () => {
  const info = streamInfo({
    width: 40,
    height: 30,
    frames: 1,
    rate: { num: 0, den: 1 },
    chromaShiftX: 0,
    chromaShiftY: 0,
    depth: 16,
    colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
  });

  it('keep 16 bits and say their pixels an inch', async () => {
    await writeStill(picture(info), at('s.tif'), { kind: 'tiff' }, { ppi: 600 });
    await writeStill(picture(info), at('s.png'), { kind: 'png' }, { ppi: 300 });
    const raw = (file: string) => sharp(file, { ignoreIcc: true }).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
    expect((await raw(at('s.tif'))).equals(await raw(at('s.png')))).toBe(true);
    const { facts } = await probe(at('s.tif'));
    expect(facts).toMatchObject({ kind: 'still', density: 600, stream: { width: 40, height: 30, depth: 16, frames: 1 } });
    const source = await openSource(at('s.tif'), 'still');
    const got = await source.frame(0, wholeRegion(info));
    got.planes[0].data.forEach((v, i) => expect(Math.abs(v - picture(info).planes[0].data[i])).toBeLessThan(6));
  });

  it('are decoded in strips where they are large, none of which is off by a row', async () => {
    const width = 4000,
      height = 12_500;
    const grey = new Uint8Array(width * height);
    for (let y = 0; y < height; y++) grey.fill((y * 7) % 251, y * width, (y + 1) * width);
    await sharp(grey, { raw: { width, height, channels: 1 } })
      .png({ compressionLevel: 1 })
      .toFile(at('large.png'));
    const source = await openSource(at('large.png'), 'large');
    const { planes } = await source.frame(0, wholeRegion(source.info));
    for (let y = 0; y < height; y++) expect(planes[0].data[y * width + (y % width)]).toBe(((y * 7) % 251) * 257);
  });

  it('are written as JPEG, WebP and AVIF, smaller where the quality is less', async () => {
    const large = picture({ ...info, width: 320, height: 240 });
    for (const kind of ['jpeg', 'webp', 'avif'] as const) {
      const sizes: number[] = [];
      for (const quality of [undefined, 40]) {
        const file = at(`${kind}-${quality ?? 'first'}`);
        await writeStill(large, file, { kind, quality }, { ppi: 300 });
        const meta = await sharp(file).metadata();
        expect([meta.format, meta.width, meta.height]).toEqual([kind === 'avif' ? 'heif' : kind, 320, 240]);
        sizes.push(readFileSync(file).length);
      }
      expect(sizes[1]).toBeLessThan(0.8 * sizes[0]);
    }
  });

  it('turn as their orientation tag asks', async () => {
    await sharp({ create: { width: 40, height: 20, channels: 3, background: 'red' } })
      .withMetadata({ orientation: 6 })
      .jpeg()
      .toFile(at('turned.jpg'));
    expect((await probe(at('turned.jpg'))).facts.stream).toMatchObject({ width: 20, height: 40 });
  });
});

describe('probe of files to repair', () => {
  const clip = (name: string, ...more: string[]): string => {
    const picture = ['-f', 'lavfi', '-i', 'testsrc2=size=320x240:rate=25:duration=3'];
    const sound = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=3'];
    ffmpeg(...picture, ...more, ...sound, '-map', '0:v', '-map', '1:a', '-c:v', 'mpeg2video', '-b:v', '1500k', '-c:a', 'mp2', at(name));
    return at(name);
  };

  it('names one that breaks off, and not the whole one', async () => {
    const whole = clip('whole.mpg');
    expect((await probe(whole)).facts.damage).toEqual([]);
    const broken = at('broken.mpg');
    const bytes = readFileSync(whole);
    writeFileSync(broken, bytes.subarray(0, Math.round(bytes.length * 0.6)));
    expect((await probe(broken)).facts.damage.join()).toContain('cut off');
  });

  it('says how far sound starts apart from the picture, and nothing of a few hundredths', async () => {
    expect((await probe(clip('level.mkv'))).facts.notes).toEqual([]);
    const late = (await probe(clip('late.mkv', '-itsoffset', '0.4'))).facts.notes.join();
    expect(late).toMatch(/^the sound of track 1 starts 0\.[34]\d s after the picture$/);
    const early = at('early.mkv');
    ffmpeg('-itsoffset', '0.5', '-i', at('level.mkv'), '-i', at('level.mkv'), '-map', '0:v', '-map', '1:a', '-c', 'copy', early);
    expect((await probe(early)).facts.notes.join()).toMatch(/s before the picture$/);
  });
});
