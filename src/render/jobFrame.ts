import path from 'node:path';
import { type Archive, findItem, type Job, measuredStream, sourcePath } from '../archive';
import { outputStream } from '../core';
import { fileArgument, runTool, SAFE_PROTOCOLS, UNTRUSTED_INPUT } from '../media';
import { workFolder } from './finish';
import { keptTime } from './trimmed';

/** Largest side of a picture that is only looked at, in pixels. */
const MAX_SIDE = 960;
/** Seconds a frame may take to come. */
const LIMIT_SECONDS = 20;

/** A frame of a running film as JPEG, from the piece it lies in, or of its source at the same moment. @returns undefined where it is not made yet. */
export async function jobFrame(a: Archive, job: Job, frame: number, side: 'made' | 'source'): Promise<Buffer | undefined> {
  const item = await findItem(a, job.itemId);
  if (item?.kind !== 'moving') return undefined;
  const stream = measuredStream(item);
  const output = outputStream(job.plan, stream);
  const seconds = (frames: number): number => (frames * output.rate.den) / output.rate.num;
  if (side === 'source') {
    const start = item.facts.videoStart + (keptTime(job.plan, stream)?.start ?? 0);
    return picture([
      ...UNTRUSTED_INPUT,
      '-ss',
      (start + seconds(frame)).toFixed(6),
      '-i',
      fileArgument(sourcePath(a, item)),
      '-map',
      `0:V:${item.facts.part?.stream ?? 0}`,
    ]);
  }
  const piece = (await a
    .db('segments')
    .where({ job_id: job.id, state: 'done' })
    .where('first', '<=', frame)
    .orderBy('first', 'desc')
    .first()) as { first: number; count: number; files: string } | undefined;
  if (!piece || frame >= piece.first + piece.count) return undefined;
  const files = JSON.parse(piece.files) as Record<string, string>;
  const file = path.join(workFolder(a, job.id), files.master ?? files.access);
  return picture([...SAFE_PROTOCOLS, '-ss', seconds(frame - piece.first).toFixed(6), '-i', fileArgument(file)]);
}

async function picture(input: string[]): Promise<Buffer | undefined> {
  const shown = `scale='trunc(min(${MAX_SIDE},iw*sar)/2)*2':'trunc(ow/dar/2)*2',setsar=1`;
  const { code, stdout } = await runTool(
    'ffmpeg',
    ['-v', 'error', ...input, '-frames:v', '1', '-vf', shown, '-q:v', '3', '-f', 'mjpeg', 'pipe:1'],
    { limit: LIMIT_SECONDS },
  );
  return code === 0 && stdout.length > 0 ? stdout : undefined;
}
