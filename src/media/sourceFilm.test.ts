import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { framesOf } from './part';
import { probe, type Probed } from './probe';
import { sourceFilm } from './sourceFilm';

let root = '',
  clip = '',
  probed: Probed;
beforeAll(async () => {
  root = mkdtempSync(path.join(tmpdir(), 'wairetic-film-'));
  clip = path.join(root, 'clip.mkv');
  const inputs = ['testsrc=size=176x144:rate=25:duration=3', 'sine=duration=3'].flatMap((i) => ['-f', 'lavfi', '-i', i]);
  execFileSync('ffmpeg', ['-v', 'error', ...inputs, '-c:v', 'ffv1', '-c:a', 'flac', '-aspect', '4:3', clip]);
  probed = await probe(clip);
});
afterAll(() => rmSync(root, { recursive: true }));

async function seen(stream: ReadableStream<Uint8Array>): Promise<{ seconds: number; codecs: string[]; width: number }> {
  const file = path.join(root, 'film.mp4');
  writeFileSync(file, Buffer.from(await new Response(stream).arrayBuffer()));
  const told = execFileSync('ffprobe', ['-v', 'error', '-show_format', '-show_streams', '-of', 'json', file]).toString();
  const { streams, format } = JSON.parse(told) as { streams: { codec_name: string; width?: number }[]; format: { duration: string } };
  return {
    seconds: Number(format.duration),
    codecs: streams.map((s) => s.codec_name).sort(),
    width: streams.find((s) => s.width)?.width ?? 0,
  };
}

describe('sourceFilm', () => {
  it('plays from a moment on, with its sound, in its shape', async () => {
    const film = await seen(sourceFilm(clip, probed.facts, 1, new AbortController().signal));
    expect(film.codecs).toEqual(['aac', 'h264']);
    expect(film.seconds).toBeCloseTo(2, 0);
    expect(film.width).toBe(192);
  });

  it('of a part ends where that does', async () => {
    const { facts } = framesOf(probed as Required<Probed>, 25, 49);
    expect((await seen(sourceFilm(clip, facts, 0.5, new AbortController().signal))).seconds).toBeCloseTo(0.5, 0);
  });

  it('ends when nobody watches any more', async () => {
    const gone = new AbortController();
    const reader = sourceFilm(clip, probed.facts, 0, gone.signal).getReader();
    await reader.read();
    gone.abort();
    for (let end = false; !end;) end = (await reader.read()).done;
    expect(gone.signal.aborted).toBe(true);
  });
});
