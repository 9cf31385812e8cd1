import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { picture, streamInfo } from '../core/testing/pictures';
import { masterCodec, VideoEncoder } from './encode';
import { openSource } from './openSource';
import { probe } from './probe';
import { Interrupted, MediaError, runTool } from './tools';

let folder = '';
let film = '';

beforeAll(() => {
  folder = mkdtempSync(path.join(tmpdir(), 'wairetic-killed-'));
  film = path.join(folder, 'film.mpg');
  const input = ['-nostdin', '-v', 'error', '-f', 'lavfi', '-i', 'testsrc2=size=320x240:rate=25'];
  execFileSync('ffmpeg', [...input, '-frames:v', '80', '-c:v', 'mpeg2video', '-g', '12', '-bf', '2', '-q:v', '3', film]);
});
afterAll(() => rmSync(folder, { recursive: true }));

/** Processes that this one started; a tool goes by other names until it has replaced its wrappers. */
function children(): number[] {
  return readdirSync('/proc')
    .filter((entry) => /^\d+$/.test(entry))
    .filter((pid) => {
      try {
        const line = readFileSync(`/proc/${pid}/stat`, 'utf8');
        const [, parent] = line.slice(line.lastIndexOf(')') + 2).split(' ');
        return Number(parent) === process.pid;
      } catch {
        return false;
      }
    })
    .map(Number);
}

describe('a decoder that is killed', () => {
  it('is started anew, and every frame is the right one', async () => {
    const probed = await probe(film);
    const sound = await openSource(film, 'sound', probed),
      hurt = await openSource(film, 'hurt', probed);
    let kills = 0;
    // In order, then far back and forth, as a proof and a render ask.
    for (const n of [...Array(40).keys(), 79, 5, 60, 61, 62, 30, 31, 78, 0]) {
      const expected = await sound.frame(n, { x: 0, y: 0, width: 320, height: 240 });
      const asked = hurt.frame(n, { x: 0, y: 0, width: 320, height: 240 });
      if (n % 3 === 0) {
        for (const pid of children()) process.kill(pid, 'SIGKILL');
        kills++;
      }
      // The sound one may have been hit too: it starts anew as well.
      const got = await asked.catch(() => hurt.frame(n, { x: 0, y: 0, width: 320, height: 240 }));
      expect(Buffer.compare(Buffer.from(got.planes[0].data.buffer), Buffer.from(expected.planes[0].data.buffer)), `frame ${n}`).toBe(0);
    }
    expect(kills).toBeGreaterThan(15);
    sound.close?.();
    hurt.close?.();
  });
});

describe('an encoder that is killed', () => {
  it('says so by its signal, as something to be tried again', async () => {
    const info = streamInfo({ width: 96, height: 64, frames: 40 });
    const encoder = new VideoEncoder(info, [{ path: path.join(folder, 'x.mkv'), format: 'matroska', codec: masterCodec(info) }]);
    await encoder.write(picture(info));
    for (const pid of children()) process.kill(pid, 'SIGKILL');
    const rest = async (): Promise<void> => {
      for (let n = 0; n < 40; n++) await encoder.write(picture(info, n));
      await encoder.finish();
    };
    await expect(rest()).rejects.toThrow(Interrupted);
    await expect(rest()).rejects.toThrow('SIGKILL');
  });
});

describe('a tool', () => {
  const endless = ['-v', 'error', '-f', 'lavfi', '-i', 'testsrc2', '-f', 'null', '-'];

  it('that is killed answers nothing', async () => {
    const running = runTool('ffmpeg', endless);
    for (const pid of children()) process.kill(pid, 'SIGKILL');
    await expect(running).rejects.toThrow(Interrupted);
  });

  it('that takes too long is stopped', async () => {
    await expect(runTool('ffmpeg', endless, { limit: 0.3 })).rejects.toThrow(MediaError);
  });

  it('knows nothing of this process, and reaches no network', async () => {
    process.env.WAIRETIC_SECRET = 'kept';
    const { stderr } = await runTool('ffmpeg', ['-v', 'error', '-i', 'http://127.0.0.1:9/x']);
    delete process.env.WAIRETIC_SECRET;
    expect(stderr).toMatch(/unreachable|refused|denied/i);
    expect(Object.keys((await import('./confine')).TOOL_ENVIRONMENT)).not.toContain('WAIRETIC_SECRET');
  });
});
