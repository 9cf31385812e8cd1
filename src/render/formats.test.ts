import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readPlan } from '../core';
import { probe, probeParts } from '../media/probe';
import { renderSegment } from './segment';

let folder = '';
const at = (name: string): string => path.join(folder, name);
const ffmpeg = (...args: string[]): Buffer =>
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-threads', '1', ...args], { maxBuffer: 1 << 28 });

beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'wairetic-formats-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

/** Shows what samples are, not how fast they can be shown; chroma lies on its first pixel, as of tape and disc. */
const EXACT = 'scale=in_h_chr_pos=0:flags=bilinear+accurate_rnd+full_chroma_int+full_chroma_inp';

/** The first frame as red, green and blue of 16 bits, as ffmpeg decodes it; `deep` of more than 8 bits, `by` a format on the way. */
function rgb(file: string, deep = true, by = ''): Uint16Array {
  const format = ['-vf', by ? `${EXACT},format=${by},${EXACT}` : EXACT, '-pix_fmt', deep ? 'rgb48le' : 'rgb24', '-f', 'rawvideo', '-'];
  const raw = new Uint8Array(ffmpeg('-noautorotate', '-i', file, '-map', '0:v:0', '-frames:v', '1', ...format));
  return deep ? new Uint16Array(raw.buffer) : Uint16Array.from(raw, (v) => v * 257);
}

/** Peak signal to noise, dB; infinite for equal ones. */
function closeness(a: Uint16Array, b: Uint16Array): number {
  expect(a.length).toBe(b.length);
  const error = a.reduce((sum, v, i) => sum + (v - b[i]) ** 2, 0) / a.length;
  return 10 * Math.log10(65535 ** 2 / error);
}

/** A do-nothing step in place: what it reads is computed on and written at a depth of its own. */
const STEP = { id: 'step', treatment: 'grain', on: true, settings: { luma: 0.1, chroma: 0, keep: 99 } };

let number = 0;
/** The file treated with a plan of these steps, as its master. */
async function treated(file: string, steps: unknown[]): Promise<string> {
  const probed = await probe(file);
  const still = probed.facts.kind === 'still';
  const output = at(`${number++}.${still ? 'tif' : 'mkv'}`);
  await renderSegment({
    source: { path: file, key: output, probed, info: probed.facts.stream },
    plan: readPlan({ format: 'wairetic-plan', version: 2, steps }),
    first: 0,
    count: Math.min(2, probed.facts.stream.frames),
    master: { path: output, still: { kind: 'tiff', space: 'source' } },
    ppi: 300,
    shared: new SharedArrayBuffer(8),
  });
  return output;
}

const COLOURS = 'mandelbrot=size=SIZE:rate=25:maxiter=60,eq=saturation=0.7,gblur=1.2';
const made = (name: string, size: string, rate: string, args: string[]): string => {
  ffmpeg('-f', 'lavfi', '-i', COLOURS.replace('SIZE', size), '-r', rate, '-frames:v', '3', ...args, at(name));
  return at(name);
};

describe('moving images come out as they went in', () => {
  const small = (name: string, ...args: string[]): [string, string, string, string[]] => [name, '128x96', '25', args];
  const ffv1 = (format: string): [string, string, string, string[]] => small(`ffv1-${format}.mkv`, '-c:v', 'ffv1', '-pix_fmt', format);
  it.each([
    ['ntsc.dv', '720x480', '30000/1001', ['-target', 'ntsc-dv', '-pix_fmt', 'yuv411p']],
    ['ntsc-dv.avi', '720x480', '30000/1001', ['-c:v', 'dvvideo', '-pix_fmt', 'yuv411p']],
    ['pal.dv', '720x576', '25', ['-target', 'pal-dv', '-pix_fmt', 'yuv420p']],
    ['dv50.mov', '720x576', '25', ['-c:v', 'dvvideo', '-pix_fmt', 'yuv422p']],
    small('mpeg1.mpg', '-c:v', 'mpeg1video', '-q:v', '2'),
    small('mpeg2.mpg', '-c:v', 'mpeg2video', '-q:v', '2'),
    small('mpeg2-422.ts', '-c:v', 'mpeg2video', '-pix_fmt', 'yuv422p', '-q:v', '2'),
    small('mjpeg-420.avi', '-c:v', 'mjpeg', '-pix_fmt', 'yuvj420p', '-q:v', '2'),
    small('mjpeg-422.mov', '-c:v', 'mjpeg', '-pix_fmt', 'yuvj422p', '-q:v', '2'),
    ['h263.3gp', '176x144', '25', ['-c:v', 'h263', '-q:v', '2']],
    small('wmv.wmv', '-c:v', 'wmv2', '-q:v', '2'),
    small('asp.avi', '-c:v', 'mpeg4', '-q:v', '2'),
    small('huffyuv-422.avi', '-c:v', 'huffyuv', '-pix_fmt', 'yuv422p'),
    small('huffyuv-rgb.avi', '-c:v', 'huffyuv', '-pix_fmt', 'rgb24'),
    small('raw-rgb.avi', '-c:v', 'rawvideo', '-pix_fmt', 'bgr24'),
    ['raw-rgb-large.avi', '640x480', '25', ['-c:v', 'rawvideo', '-pix_fmt', 'bgr24']],
    small('raw-rgb555.avi', '-c:v', 'rawvideo', '-pix_fmt', 'rgb555le'),
    small('uyvy.mov', '-c:v', 'rawvideo', '-pix_fmt', 'uyvy422'),
    small('v210.mov', '-c:v', 'v210', '-pix_fmt', 'yuv422p10le'),
    small('prores-422.mov', '-c:v', 'prores_ks', '-pix_fmt', 'yuv422p10le'),
    small('prores-4444-alpha.mov', '-c:v', 'prores_ks', '-profile:v', '4444', '-pix_fmt', 'yuva444p10le'),
    ...['yuv420p', 'yuv422p', 'yuv444p', 'yuv440p', 'yuv411p', 'yuv410p', 'yuv420p10le', 'yuv422p12le', 'yuv444p16le'].map(ffv1),
    ...['gray', 'gray16le', 'bgr0', 'gbrp10le', 'rgb48le', 'gbrp16le', 'yuva420p', 'bgra'].map(ffv1),
    ['ffv1-gray-sd.mkv', '720x576', '25', ['-c:v', 'ffv1', '-pix_fmt', 'gray', '-color_range', 'tv']],
    small('png.mkv', '-c:v', 'png', '-pix_fmt', 'rgb24'),
    small('png-16.mkv', '-c:v', 'png', '-pix_fmt', 'rgb48be'),
    small('h264-444.mkv', '-c:v', 'libx264', '-pix_fmt', 'yuv444p', '-crf', '10'),
    small('h264-10.mkv', '-c:v', 'libx264', '-pix_fmt', 'yuv420p10le', '-crf', '10'),
    small('h264-601.mp4', '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-colorspace', 'smpte170m', '-crf', '10'),
    small('h264-709.mp4', '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-colorspace', 'bt709', '-crf', '10'),
    small('h264-full.mp4', '-c:v', 'libx264', '-pix_fmt', 'yuvj420p', '-color_range', 'pc', '-crf', '10'),
    small('hevc.mkv', '-c:v', 'libx265', '-pix_fmt', 'yuv420p', '-x265-params', 'log-level=none'),
    small('vp9.webm', '-c:v', 'libvpx-vp9', '-crf', '10'),
    small('av1.mkv', '-c:v', 'libsvtav1', '-crf', '20'),
    small('cinepak.avi', '-c:v', 'cinepak', '-q:v', '2'),
    small('pal8.avi', '-c:v', 'rawvideo', '-pix_fmt', 'pal8'),
    ['odd.mkv', '97x63', '25', ['-c:v', 'ffv1', '-pix_fmt', 'yuv420p']],
    ['odd-411.mkv', '99x62', '25', ['-c:v', 'ffv1', '-pix_fmt', 'yuv411p']],
    small('aspect.mpg', '-c:v', 'mpeg2video', '-q:v', '2', '-vf', 'setsar=64/45'),
    small('turned.mp4', '-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-crf', '10', '-metadata:s:v', 'rotate=90'),
    small('moves.gif'),
    small('moves.png', '-c:v', 'apng', '-f', 'apng'),
  ] as [string, string, string, string[]][])('%s', async (name, size, rate, args) => {
    const file = made(name, size, rate, args);
    // Of palettes and five bits ffmpeg's straight way to 16 bits goes by luma and colour differences.
    const deep = !/pal8|555/.test(name);
    // Its shortest way from coarse chroma to red, green and blue shares chroma between two pixels.
    const by = name.includes('41') ? 'yuv444p16le' : '';
    const source = rgb(file, deep, by);
    const plain = await treated(file, []);
    expect(closeness(rgb(plain, deep, by), source), 'empty plan').toBeGreaterThan(90);
    const stepped = await treated(file, [STEP]);
    // ffmpeg takes the white of 10 bits in full range for 1024, not 1023: it shows the same samples 0.3 % apart.
    const least = /yuvj|pc/.test(args.join()) ? 48 : 50;
    expect(closeness(rgb(stepped, deep, by), source), 'one step').toBeGreaterThan(least);
  });
});

describe('stills come out as they went in', () => {
  /** Samples as sharp decodes them, with the turn the tags ask for, in the file's own space, at 16 bits; grey three times. */
  const bySharp = async (file: string): Promise<Uint16Array> => {
    const { depth, space } = await sharp(file).metadata();
    const deep = depth === 'ushort';
    // At 16 bits sharp would bring what has a profile into a space of its own.
    const turned = sharp(file, { ignoreIcc: space !== 'cmyk' })
      .autoOrient()
      .removeAlpha();
    const kept = space === 'cmyk' || !deep ? turned.toColourspace('srgb') : turned.toColourspace('rgb16');
    const raw = new Uint8Array(await kept.raw({ depth: deep ? 'ushort' : 'uchar' }).toBuffer());
    return deep ? new Uint16Array(raw.buffer) : Uint16Array.from(raw, (v) => v * 257);
  };
  const judge = async (file: string, source: Uint16Array): Promise<void> => {
    expect((await probe(file)).facts.kind).toBe('still');
    expect(closeness(await bySharp(await treated(file, [])), source), 'empty plan').toBeGreaterThan(70);
    expect(closeness(await bySharp(await treated(file, [STEP])), source), 'one step').toBeGreaterThan(50);
  };
  const image = (): Sharp => sharp(made('picture.png', '97x61', '25', ['-frames:v', '1', '-update', '1', '-pix_fmt', 'rgb48be']));

  it.each([
    ['444.jpg', (s) => s.jpeg({ quality: 95, chromaSubsampling: '4:4:4' })],
    ['420.jpg', (s) => s.jpeg({ quality: 95, chromaSubsampling: '4:2:0' })],
    ['grey.jpg', (s) => s.greyscale().jpeg()],
    ['cmyk.jpg', (s) => s.toColourspace('cmyk').jpeg()],
    ...[1, 2, 3, 4, 5, 6, 7, 8].map((orientation): [string, (s: Sharp) => Sharp] => [
      `turned-${orientation}.jpg`,
      (s) => s.jpeg().withMetadata({ orientation }),
    ]),
    ['8.png', (s) => s.png()],
    ['16.png', (s) => s.toColourspace('rgb16').png()],
    ['grey-16.png', (s) => s.toColourspace('grey16').png()],
    ['palette.png', (s) => s.png({ palette: true })],
    ['1-bit.png', (s) => s.greyscale().threshold(100).png({ palette: true, colours: 2 })],
    ['alpha.png', (s) => s.ensureAlpha(0.5).png()],
    ['p3.png', (s) => s.withIccProfile('p3').png()],
    ['8.tif', (s) => s.toColourspace('srgb').tiff({ compression: 'none' })],
    ['16.tif', (s) => s.toColourspace('rgb16').tiff({ compression: 'deflate' })],
    ['grey.tif', (s) => s.greyscale().tiff()],
    ['cmyk.tif', (s) => s.toColourspace('cmyk').tiff()],
    ['lzw.tif', (s) => s.tiff({ compression: 'lzw' })],
    ['jpeg.tif', (s) => s.tiff({ compression: 'jpeg' })],
    ['tiled.tif', (s) => s.tiff({ tile: true, tileWidth: 64, tileHeight: 64 })],
    ['big-endian.tif', (s) => s.toColourspace('rgb16').tiff({ bigtiff: false })],
    ['picture.webp', (s) => s.webp({ lossless: true })],
    ['picture.avif', (s) => s.avif({ quality: 90 })],
    ['one.gif', (s) => s.gif()],
  ] as [string, (s: Sharp) => Sharp][])('%s', async (name, write) => {
    await write(image()).toFile(at(name));
    await judge(at(name), await bySharp(at(name)));
  });

  it.each([
    ['picture.bmp', 'bgr24'],
    ['picture.ppm', 'rgb24'],
    ['deep.ppm', 'rgb48be'],
    ['grey.pgm', 'gray'],
    ['picture.jp2', 'rgb24'],
    ['deep.jp2', 'rgb48le'],
    ['picture.tga', 'bgr24'],
    ['picture.dpx', 'gbrp10le'],
    ['picture.pcx', 'rgb24'],
  ])('%s', async (name, format) => {
    const file = made(name, '97x61', '25', ['-frames:v', '1', '-update', '1', '-pix_fmt', format]);
    await judge(file, rgb(file, /48|10/.test(format)));
  });

  it('several pages, each by itself', async () => {
    const pages = await Promise.all([image(), image().negate()].map((s) => s.removeAlpha().toColourspace('srgb').raw().toBuffer()));
    await sharp(Buffer.concat(pages), { raw: { width: 97, height: 122, channels: 3, pageHeight: 61 } })
      .tiff()
      .toFile(at('pages.tif'));
    const parts = await probeParts(at('pages.tif'));
    expect(parts.map(({ facts }) => [facts.kind, facts.part, facts.stream.width, facts.stream.height])).toEqual([
      ['still', { page: 0 }, 97, 61],
      ['still', { page: 1 }, 97, 61],
    ]);
    expect(parts[0].facts.notes.join()).toContain('one of 2 pictures');
  });
});

describe('what cannot be read says why', () => {
  it.each([
    ['list.mpg', 'ffconcat version 1.0\nfile other.mkv\n', /list of other files/],
    ['text.mkv', 'only words\n'.repeat(50), /no picture and no video/],
    ['hls.mpg', '#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\nother.ts\n#EXT-X-ENDLIST\n', /list of other files|no picture/],
    ['dash.mkv', '<?xml version="1.0"?><MPD xmlns="urn:mpeg:dash:schema:mpd:2011"></MPD>', /list of other files|no picture/],
    ['picture.svg', '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>', /list of other files|no picture|not taken in/],
  ])('%s', async (name, content, why) => {
    writeFileSync(at(name), content);
    await expect(probe(at(name))).rejects.toThrow(why);
  });
});
