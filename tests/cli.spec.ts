import { expect, test } from '@playwright/test';
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import type { PlainPlan } from '../src/shared/plan';
import { makeInterlaced } from './media';
import { ROOT } from './server';

let folder = '';
const at = (name: string): string => path.join(folder, name);

function wairetic(args: string[], input?: string, env: Record<string, string> = {}): { code: number | null; out: string; err: string } {
  const { status, stdout, stderr } = spawnSync(path.join(ROOT, 'bin/wairetic'), args, {
    encoding: 'utf8',
    input,
    cwd: folder,
    env: { ...process.env, ...env },
  });
  return { code: status, out: stdout, err: stderr };
}

test.beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'wairetic-cli-'));
  makeInterlaced(at('clip.mkv'), 2, '176x144');
});
test.afterAll(() => rmSync(folder, { recursive: true }));

test('inspect tells facts and condition', () => {
  const { code, out, err } = wairetic(['inspect', 'clip.mkv', '--json']);
  expect([code, err]).toEqual([0, '']);
  const told = JSON.parse(out) as { facts: { stream: object; sha256: string }; condition: { measurements: object } };
  expect(told.facts.stream).toMatchObject({ width: 176, height: 144, frames: 60, rate: { num: 30000, den: 1001 } });
  expect(told.facts.sha256).toBe(
    createHash('sha256')
      .update(readFileSync(at('clip.mkv')))
      .digest('hex'),
  );
  expect(told.condition.measurements).toMatchObject({ scan: 'interlaced', fieldOrder: 'top-first', monochrome: false });
  expect(wairetic(['inspect', 'clip.mkv']).out).toContain('interlaced, top field first');
});

test('propose gives a plan that treat runs, to any format, and the same bytes each time', () => {
  const { out } = wairetic(['propose', 'clip.mkv', '--json']);
  const plan = JSON.parse(out) as PlainPlan;
  expect(plan.steps.filter((s) => s.on).map((s) => s.treatment)).toContain('deinterlace');
  for (const step of plan.steps) if (step.treatment === 'upscale') step.settings = { ...step.settings, target: 'factor', factor: 2 };
  writeFileSync(at('plan.json'), JSON.stringify(plan));
  for (const name of ['a.mkv', 'b.mkv', 'c.mp4'])
    expect(wairetic(['treat', 'clip.mkv', '--plan', 'plan.json', '--out', name]).code).toBe(0);
  expect(readFileSync(at('a.mkv')).equals(readFileSync(at('b.mkv')))).toBe(true);
  const piece = wairetic(['treat', 'clip.mkv', '--plan', '-', '--out', 'part.mkv', '--from', '0.5', '--to', '1'], JSON.stringify(plan));
  expect([piece.code, piece.err]).toEqual([0, '']);
  const frames = (name: string): number =>
    Number(
      spawnSync(
        'ffprobe',
        ['-v', 'error', '-select_streams', 'v', '-count_packets', '-show_entries', 'stream=nb_read_packets', '-of', 'csv=p=0', at(name)],
        { encoding: 'utf8' },
      ).stdout.replace(/\D/g, ''),
    );
  expect([frames('a.mkv'), frames('c.mp4')]).toEqual([120, 120]);
  expect(frames('part.mkv')).toBeGreaterThanOrEqual(29);
  expect(frames('part.mkv')).toBeLessThanOrEqual(31);
});

test('the best choice runs from the command line, gives the same bytes on one thread and two, and says what it misses', () => {
  const { out } = wairetic(['propose', 'clip.mkv', '--quality', 'best', '--json']);
  const plan = JSON.parse(out) as PlainPlan;
  expect(plan.steps.filter((s) => 'quality' in s.settings).map((s) => s.settings.quality)).not.toContain('fast');
  for (const step of plan.steps) if (step.treatment === 'upscale') step.settings = { ...step.settings, target: 'factor', factor: 2 };
  writeFileSync(at('best.json'), JSON.stringify(plan));
  const treat = (name: string, env: Record<string, string>): { code: number | null; err: string } =>
    wairetic(['treat', 'clip.mkv', '--plan', 'best.json', '--out', name, '--to', '0.4'], undefined, env);
  expect(treat('one.mkv', { WAIRETIC_THREADS: '1' })).toMatchObject({ code: 0, err: '' });
  expect(treat('two.mkv', { WAIRETIC_THREADS: '2' })).toMatchObject({ code: 0, err: '' });
  expect(readFileSync(at('one.mkv')).equals(readFileSync(at('two.mkv')))).toBe(true);
  const without = treat('none.mkv', { WAIRETIC_MODELS: folder });
  expect(without.code).toBe(1);
  expect(without.err).toMatch(/^wairetic: The network "fields" has no card at .*Choose "fast"/);
  expect(existsSync(at('none.mkv'))).toBe(false);
  expect(wairetic(['propose', 'clip.mkv', '--quality', 'superb']).code).toBe(2);
});

test('a still gets what is told of it, and another colour space', async () => {
  await sharp({ create: { width: 64, height: 48, channels: 3, background: '#c06030' } })
    .withIccProfile('p3')
    .png()
    .toFile(at('told.png'));
  const plan = JSON.stringify({ format: 'wairetic-plan', version: 2, steps: [] });
  const treat = (out: string, ...more: string[]): { code: number | null; err: string } =>
    wairetic(['treat', 'told.png', '--plan', '-', '--out', out, ...more], plan);
  expect(treat('kept.tif', '--title', 'Λιμάνι', '--person', 'Ruth', '--person', 'Iris', '--date', 'about 1921')).toMatchObject({
    code: 0,
    err: '',
  });
  const kept = await sharp(at('kept.tif')).metadata();
  expect(kept.icc).toEqual((await sharp(at('told.png')).metadata()).icc);
  for (const word of ['Λιμάνι', 'Ruth', 'Iris', 'about 1921']) expect(kept.xmp?.toString()).toContain(word);
  expect(treat('srgb.tif', '--space', 'srgb').code).toBe(0);
  expect((await sharp(at('srgb.tif')).metadata()).icc?.toString('latin1')).toContain('s\0R\0G\0B');
  const refused = treat('none.tif', '--space', 'cmyk');
  expect(refused.code).toBe(2);
  expect(refused.err).toContain('source, srgb, display-p3, wide');
});

test('a part of a still is written by itself, and laid back where it was', async () => {
  const noise = Uint16Array.from({ length: 3 * 64 * 48 }, (_, i) => (i * 40503) % 65536);
  await sharp(noise, { raw: { width: 64, height: 48, channels: 3 } })
    .toColourspace('rgb16')
    .png()
    .toFile(at('whole.png'));
  const plan = JSON.stringify({ format: 'wairetic-plan', version: 2, steps: [] });
  const treat = (out: string, ...more: string[]) => wairetic(['treat', 'whole.png', '--plan', '-', '--out', out, ...more], plan);
  expect(treat('cut.png', '--crop', '16,8,32,24')).toMatchObject({ code: 0, err: '' });
  expect(await sharp(at('cut.png')).metadata()).toMatchObject({ width: 32, height: 24, depth: 'ushort' });
  expect(treat('plain.png').code).toBe(0);
  expect(treat('back.png', '--lay', 'cut.png@16,8,32,24')).toMatchObject({ code: 0, err: '' });
  const samples = async (name: string): Promise<Buffer> =>
    sharp(at(name), { ignoreIcc: true }).toColourspace('rgb16').raw({ depth: 'ushort' }).toBuffer();
  expect((await samples('back.png')).equals(await samples('plain.png'))).toBe(true);
  expect(treat('a.png', '--lay', 'cut.png@16,8,32,32').err).toContain('not the shape of 32 x 32');
  expect(treat('a.png', '--lay', 'cut.png@40,8,32,24').err).toContain('leaves the result, which has 64 x 48 px');
  expect(treat('a.png', '--crop', '1,2,3').err).toContain('X,Y,WIDTH,HEIGHT');
  expect(treat('a.png', '--lay', 'nothing.png@16,8,32,24')).toMatchObject({ code: 1 });
  expect(existsSync(at('a.png'))).toBe(false);
});

test('a monochrome still is coloured and toned; one in colours stays as it is', async () => {
  const grey = Uint8Array.from({ length: 160 * 120 }, (_, i) => 90 + 60 * Math.sin((i % 160) / 21) * Math.cos(i / 160 / 17));
  await sharp(grey, { raw: { width: 160, height: 120, channels: 1 } })
    .toColourspace('b-w')
    .png()
    .toFile(at('grey.png'));
  const treat = (from: string, out: string, treatment: string, settings: object) =>
    wairetic(
      ['treat', from, '--plan', '-', '--out', out],
      JSON.stringify({ format: 'wairetic-plan', version: 2, steps: [{ treatment, on: true, settings }] }),
    );
  const codes = async (file: string): Promise<Buffer> => sharp(at(file)).toColourspace('srgb').raw().toBuffer();
  expect(treat('grey.png', 'coloured.png', 'colourise', { quiet: 0, vividness: 200 })).toMatchObject({ code: 0, err: '' });
  const coloured = await codes('coloured.png');
  expect(coloured.length).toBe(3 * grey.length);
  expect(coloured.some((v, i) => i % 3 === 0 && Math.abs(v - coloured[i + 2]) > 3)).toBe(true);
  expect(treat('grey.png', 'toned.jpg', 'toning', { tone: 'sepia' }).code).toBe(0);
  expect((await sharp(at('toned.jpg')).stats()).channels.map(({ mean }) => mean)).toEqual(
    (await sharp(at('toned.jpg')).stats()).channels.map(({ mean }) => mean).sort((a, b) => b - a),
  );
  // Four colours of one lightness.
  const colours = [150, 60, 60, 60, 100, 60, 60, 75, 200, 110, 85, 30];
  const bands = Buffer.from(
    Uint8Array.from({ length: 3 * 64 * 48 }, (_, i) => colours[3 * Math.floor((Math.floor(i / 3) % 64) / 16) + (i % 3)]),
  );
  await sharp(bands, { raw: { width: 64, height: 48, channels: 3 } })
    .png()
    .toFile(at('bands.png'));
  const warned = treat('bands.png', 'bands-after.png', 'colourise', {});
  expect(warned.code).toBe(0);
  expect(warned.err).toContain('reads colours in this picture');
  const { buffer, byteOffset, length } = await sharp(at('bands-after.png'), { ignoreIcc: true })
    .toColourspace('rgb16')
    .raw({ depth: 'ushort' })
    .toBuffer();
  expect(Buffer.from(new Uint16Array(buffer, byteOffset, length / 2).map((v) => Math.round(v / 257)))).toEqual(bands);
});

test('a mask holds a step to its part, and a mask that cannot be is refused', async () => {
  const random = Array.from({ length: 96 * 64 }, (_, i) => 128 + 40 * Math.sin(i * 12.9898) * Math.sin(i * 78.233));
  await sharp(Uint8Array.from(random), { raw: { width: 96, height: 64, channels: 1 } })
    .png()
    .toFile(at('grain.png'));
  const step = (mask: object): object => ({
    treatment: 'grain',
    on: true,
    settings: { luma: 20, keep: 0 },
    mask: { areas: [{ shape: 'box', x: 0.5, y: 0, width: 0.5, height: 1 }], soft: 0, ...mask },
  });
  const treat = (mask: object, out: string): { code: number | null; err: string } =>
    wairetic(
      ['treat', 'grain.png', '--plan', '-', '--out', out],
      JSON.stringify({ format: 'wairetic-plan', version: 1, steps: [step(mask)] }),
    );
  expect(treat({}, 'masked.png')).toMatchObject({ code: 0, err: '' });
  const grey = async (name: string): Promise<Buffer> => sharp(at(name)).greyscale().raw().toBuffer();
  const [before, after] = await Promise.all([grey('grain.png'), grey('masked.png')]);
  let left = 0,
    right = 0;
  before.forEach((v, i) => (i % 96 < 48 ? (left += Math.abs(v - after[i])) : (right += Math.abs(v - after[i]))));
  expect(left / (48 * 64)).toBeLessThan(0.6);
  expect(right / (48 * 64)).toBeGreaterThan(3);
  expect(treat({ areas: [] }, 'none.png')).toMatchObject({
    code: 1,
    err: expect.stringMatching(/^wairetic: .*Step 1, Grain: mask: areas/),
  });
});

test('errors say what is wrong, on standard error, with the usual codes; nothing is overwritten', () => {
  expect(wairetic(['inspect', 'missing.mkv'])).toMatchObject({ code: 1, out: '', err: 'wairetic: no such file: missing.mkv\n' });
  expect(wairetic([]).code).toBe(2);
  expect(wairetic(['treat', 'clip.mkv']).code).toBe(2);
  expect(wairetic(['frobnicate', 'clip.mkv']).err).toContain('usage:');
  writeFileSync(at('bad.json'), '{"format":"wairetic-plan","version":1,"steps":[{"treatment":"grain","on":true,"settings":{"luma":900}}]}');
  const bad = wairetic(['treat', 'clip.mkv', '--plan', 'bad.json', '--out', 'x.mkv']);
  expect([bad.code, bad.err]).toEqual([1, 'wairetic: Step 1, Grain: Luma must lie between 0 and 60.\n']);
  writeFileSync(at('there.mkv'), 'mine');
  expect(wairetic(['treat', 'clip.mkv', '--plan', 'measured', '--out', 'there.mkv']).code).toBe(1);
  expect(readFileSync(at('there.mkv'), 'utf8')).toBe('mine');
  expect(wairetic(['treat', 'clip.mkv', '--plan', 'measured', '--out', 'x.docx']).code).not.toBe(0);
  expect(existsSync(at('x.mkv')) || existsSync(at('x.docx'))).toBe(false);
  expect(readdirSync(folder).filter((n) => n.includes('part-') || n.startsWith('.'))).toEqual([]);
});

test('a plan that forks runs, with masks in the source, and one picture of a file with several', () => {
  const grey = (level: string): string[] => ['-f', 'lavfi', '-i', `color=${level}:size=96x64:rate=25:duration=0.4`];
  const tracks = ['-map', '0', '-map', '1', '-c:v', 'ffv1', '-pix_fmt', 'yuv420p', '-y', at('two.mkv')];
  expect(spawnSync('ffmpeg', ['-v', 'error', '-nostdin', ...grey('0x404040'), ...grey('0xb0b0b0'), ...tracks]).status).toBe(0);
  expect(wairetic(['inspect', 'two.mkv']).out).toContain('2 picture streams');
  expect(wairetic(['inspect', 'two.mkv', '--part', '3']).err).toContain('holds 2 pictures, 1 to 2');
  const regrain = (amount: number): object => ({ treatment: 'regrain', on: true, settings: { amount, size: 0 } });
  const right = { parts: [{ shape: { kind: 'box', x: 0.5, y: 0, width: 0.5, height: 1 } }], feather: 0 };
  const branches = [
    { name: 'none', on: true, opacity: 100, steps: [] },
    { name: 'strong', on: true, opacity: 100, mask: right, steps: [regrain(30)] },
  ];
  // What is cropped off left of it moves nothing: the mask lies in the source.
  const crop = { treatment: 'crop', on: true, settings: { left: 32 } };
  writeFileSync(at('fork.json'), JSON.stringify({ format: 'wairetic-plan', version: 2, steps: [crop, { on: true, branches }] }));
  for (const part of ['1', '2'])
    expect(wairetic(['treat', 'two.mkv', '--part', part, '--plan', 'fork.json', '--out', `part${part}.mkv`])).toMatchObject({ code: 0 });
  const luma = (name: string): Buffer => {
    const { stdout } = spawnSync('ffmpeg', ['-v', 'error', '-i', at(name), '-frames:v', '1', '-pix_fmt', 'gray', '-f', 'rawvideo', '-']);
    return stdout;
  };
  const [dark, light] = [luma('part1.mkv'), luma('part2.mkv')];
  const mean = (b: Buffer): number => b.reduce((sum, v) => sum + v, 0) / b.length;
  expect(dark.length).toBe(64 * 64);
  expect(mean(light) - mean(dark)).toBeGreaterThan(60);
  const spread = (b: Buffer, from: number, to: number): number => {
    const values = [...b].filter((_, i) => i % 64 >= from && i % 64 < to);
    return Math.max(...values) - Math.min(...values);
  };
  expect(spread(light, 0, 15)).toBeLessThanOrEqual(1);
  expect(spread(light, 17, 64)).toBeGreaterThan(30);
});
