import { spawn } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { normalStream, randomStream } from '../src/core/picture/random';
import { FOLDER } from './prints';
import type { Row } from './table';

/** Large scans through the command line, as a restorer would run them unattended: seconds, and the most memory. */

const GROUP = 'Prints: large scans, the proposed plan from file to file';
const CLI = path.resolve(import.meta.dirname, '../bin/wairetic');
/** Sides of the scans, and codes of 255 of their grain. */
export const SCAN_MIDDLE = { width: 4096, height: 3072 },
  LARGE = { width: 12_000, height: 8400 },
  GRAIN = 3;
/** Specks of dust on each megapixel. */
const SPECKS = 40;

/** A photograph as it would be scanned: soft, with grain and dust, 16 bits, or 8. */
export async function scanned(file: string, { width, height }: { width: number; height: number }, bits: 8 | 16): Promise<void> {
  const folder = path.join(FOLDER, 'held');
  if (!existsSync(folder)) throw new Error(`${folder} is missing; "./run train held-out" makes it`);
  const photograph = path.join(folder, readdirSync(folder).find((f) => f.startsWith('photograph-08')) ?? 'photograph-08.png');
  const rgb = await sharp(photograph).removeAlpha().resize(width, height, { fit: 'fill', kernel: 'cubic' }).raw().toBuffer();
  const normal = normalStream(5),
    random = randomStream(6);
  const samples = new Uint16Array(rgb.length);
  for (let i = 0; i < rgb.length; i += 3) {
    const grain = GRAIN * normal();
    for (let c = 0; c < 3; c++) samples[i + c] = Math.min(65535, Math.max(0, Math.round(257 * (rgb[i + c] + grain))));
  }
  for (let n = 0; n < (SPECKS * width * height) / 1e6; n++) {
    const [x, y, radius] = [random() * width, random() * height, 1.5 + 4 * random()];
    const tone = random() < 0.7 ? 61_000 : 4000;
    for (let py = Math.max(0, Math.floor(y - radius)); py < Math.min(height, y + radius); py++) {
      for (let px = Math.max(0, Math.floor(x - radius)); px < Math.min(width, x + radius); px++) {
        if (Math.hypot(px - x, py - y) < radius) samples.fill(tone, 3 * (py * width + px), 3 * (py * width + px) + 3);
      }
    }
  }
  const picture =
    bits === 16
      ? sharp(samples, { raw: { width, height, channels: 3 }, limitInputPixels: false }).toColourspace('rgb16')
      : sharp(Buffer.from(samples.map((v) => v >> 8)), { raw: { width, height, channels: 3 } });
  await picture.tiff({ compression: 'none' }).toFile(file);
}

/** Runs the command line; seconds, and the most memory its process ever had, in MiB. */
async function treat(file: string, out: string, quality: string): Promise<{ seconds: number; memory: number; code: number; said: string }> {
  const start = performance.now();
  const child = spawn(process.execPath, [CLI, 'treat', file, '--plan', 'measured', '--quality', quality, '--out', out], {
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  let memory = 0,
    said = '';
  child.stderr.on('data', (data) => (said = (said + String(data)).slice(-400)));
  const watch = setInterval(() => {
    try {
      const status = readFileSync(`/proc/${child.pid}/status`, 'utf8');
      memory = Math.max(memory, Number(/VmHWM:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024);
    } catch {
      // It has ended.
    }
  }, 200);
  const code = await new Promise<number>((resolve) => child.on('exit', (c) => resolve(c ?? 1)));
  clearInterval(watch);
  return { seconds: (performance.now() - start) / 1000, memory, code, said };
}

export async function largeScans(work: string): Promise<Row[]> {
  const rows: Row[] = [];
  const middle = path.join(work, 'middle.tif');
  await scanned(middle, SCAN_MIDDLE, 8);
  for (const [quality, atMost] of [
    ['fast', 6],
    ['best', 60],
  ] as const) {
    const out = path.join(work, `middle-${quality}.tif`);
    const { seconds, memory, code, said } = await treat(middle, out, quality);
    if (code !== 0) throw new Error(`the scan of 12 megapixels was not treated: ${said}`);
    rows.push({
      group: GROUP,
      what: `12 megapixels, ${quality}, seconds with reading, measuring and writing`,
      shown: `${seconds.toFixed(1)} s, ${memory.toFixed(0)} MiB`,
      value: seconds,
      atMost,
      timed: true,
    });
  }
  const large = path.join(work, 'large.tif'),
    out = path.join(work, 'large-out.tif');
  await scanned(large, LARGE, 16);
  const { seconds, memory, code, said } = await treat(large, out, 'fast');
  rows.push({
    group: GROUP,
    what: '100 megapixels of 16 bits, fast, MiB at most',
    shown:
      code === 0 ? `${memory.toFixed(0)} MiB, ${seconds.toFixed(0)} s, ${(statSync(out).size / 2 ** 20).toFixed(0)} MiB written` : said,
    value: code === 0 ? memory : Infinity,
    atMost: 2048,
  });
  return rows;
}
