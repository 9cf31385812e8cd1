import { execFileSync } from 'node:child_process';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { randomStream } from '../src/core/picture/random';
import { codeOf } from '../src/core/errors';
import { openSource } from '../src/media/openSource';
import { probe } from '../src/media/probe';
import type { Row } from './table';

/** Sound files that are damaged: small, of many formats. */
async function seeds(work: string): Promise<{ name: string; content: Buffer }[]> {
  const made: { name: string; content: Buffer }[] = [];
  const keep = (name: string): void => void made.push({ name, content: readFileSync(path.join(work, name)) });
  const picture = sharp({
    create: { width: 48, height: 36, channels: 3, background: '#a53', noise: { type: 'gaussian', mean: 120, sigma: 40 } },
  });
  for (const name of ['a.png', 'a.jpg', 'a.tif', 'a.webp', 'a.gif', 'a.avif']) {
    await picture.clone().toFile(path.join(work, name));
    keep(name);
  }
  const film = (name: string, ...args: string[]): void => {
    const input = ['-nostdin', '-v', 'error', '-y', '-f', 'lavfi', '-i', 'testsrc2=size=96x64:rate=25'];
    execFileSync('ffmpeg', [...input, ...args, path.join(work, name)]);
    keep(name);
  };
  for (const name of ['a.bmp', 'a.ppm', 'a.jp2', 'a.tga']) film(name, '-frames:v', '1', '-update', '1');
  film('a.mkv', '-frames:v', '6', '-c:v', 'ffv1');
  film('a.mpg', '-frames:v', '6', '-c:v', 'mpeg2video');
  film('a.avi', '-frames:v', '6', '-c:v', 'mpeg4');
  film('a.mp4', '-frames:v', '6', '-c:v', 'libx264', '-pix_fmt', 'yuv420p');
  return made;
}

/** Some bytes changed, a stretch taken out, doubled or zeroed, or the end cut off. */
function mutated(content: Buffer, random: () => number): Buffer {
  const at = (length: number): number => Math.floor(random() * length);
  let out = Buffer.from(content);
  for (let n = 1 + at(4); n > 0; n--) {
    const first = at(out.length),
      last = Math.min(out.length, first + 1 + at(64));
    const kind = at(6);
    if (kind <= 1) out[first] = at(256);
    // Heads say what a file is, and are hit more often.
    else if (kind === 2) out[at(Math.min(out.length, 200))] = random() < 0.5 ? 0xff : at(256);
    else if (kind === 3) out = Buffer.concat([out.subarray(0, first), out.subarray(last)]);
    else if (kind === 4) out = Buffer.concat([out.subarray(0, last), out.subarray(first)]);
    else
      out =
        random() < 0.5
          ? out.subarray(0, Math.max(1, first))
          : Buffer.concat([out.subarray(0, first), Buffer.alloc(last - first), out.subarray(last)]);
    if (out.length === 0) break;
  }
  return out;
}

/** What damaged files did. */
export interface Fuzzed {
  taken: number;
  refused: number;
  /** Files that failed in another way than by a sentence, with what they said. */
  faults: string[];
  /** The slowest of them, in seconds. */
  slowest: number;
  /** The most memory this process held, in bytes. */
  memory: number;
}

/** Takes in `count` damaged files as far as their first frame. */
export async function fuzz(work: string, count: number, seed: number): Promise<Fuzzed> {
  const random = randomStream(seed);
  const sound = await seeds(work);
  const found: Fuzzed = { taken: 0, refused: 0, faults: [], slowest: 0, memory: 0 };
  for (let n = 0; n < count; n++) {
    // Stills are many and quick; every sixth is a film, for which several tools are started.
    const kinds = sound.filter(({ name }) => /mkv|mpg|avi|mp4/.test(name) === (n % 6 === 5));
    const { name, content } = kinds[Math.floor(random() * kinds.length)];
    const file = path.join(work, `damaged-${name}`);
    writeFileSync(file, mutated(content, random));
    const start = performance.now();
    try {
      const probed = await probe(file);
      const source = await openSource(file, `${n}`, probed);
      await source.frame(0, { x: 0, y: 0, width: probed.facts.stream.width, height: probed.facts.stream.height });
      source.close?.();
      found.taken++;
    } catch (error) {
      const { name: kind, message } = error as Error;
      if (codeOf(error) === 'media' && /^[A-Z].*\.$/s.test(message)) found.refused++;
      else found.faults.push(`${name}, ${n}: ${kind}: ${message}`);
    }
    found.slowest = Math.max(found.slowest, (performance.now() - start) / 1000);
    found.memory = Math.max(found.memory, process.memoryUsage().rss);
    rmSync(file);
  }
  return found;
}

/** 10,000 damaged files. */
export async function fuzzing(work: string): Promise<Row[]> {
  const count = Number(process.env.WAIRETIC_FUZZ ?? 10_000);
  const { taken, refused, faults, slowest, memory } = await fuzz(work, count, Date.now() % 1e9);
  faults.slice(0, 20).forEach((fault) => process.stderr.write(`${fault}\n`));
  const group = `Damaged files, ${count.toLocaleString('en-GB')} of 14 formats`;
  return [
    { group, what: 'taken in with what is left of them; refused with a sentence', shown: `${taken}; ${refused}` },
    { group, what: 'failed in any other way', shown: String(faults.length), value: faults.length, atMost: 0 },
    { group, what: 'the slowest', shown: `${slowest.toFixed(1)} s`, value: slowest, atMost: 30 },
    { group, what: 'most memory', shown: `${(memory / 2 ** 30).toFixed(2)} GiB`, value: memory / 2 ** 30, atMost: 1 },
  ];
}
