import { statfs } from 'node:fs/promises';
import { type Archive, findItem, type Job, measuredStream, noteOnJob, unfinishedJobs } from '../archive';
import { outputStream, type StreamInfo } from '../core';
import { writtenDepth } from '../media';
import { makesMaster } from '../shared/jobs';

/** Share of a frame's samples that a lossless master takes, as films have it. */
const LOSSLESS = 0.6;
/** Share that an access copy takes at most. */
const ACCESS = 0.1;
/** Bytes that stay free for the database and whatever else the disk is for. */
const SPARE = 256 << 20;

const samplesOf = ({ width, height, planes, chromaShiftX, chromaShiftY }: StreamInfo): number =>
  width * height * (planes === 1 ? 1 : 1 + 2 / (1 << (chromaShiftX + chromaShiftY)));

/** Bytes of an output frame in a master, and in an access copy. */
function frameBytes(output: StreamInfo): { master: number; access: number } {
  const raw = samplesOf(output) * (writtenDepth(output) > 8 ? 2 : 1);
  return { master: raw * LOSSLESS, access: raw * ACCESS };
}

/** Bytes of disk a job takes at the most from here on: pieces that are still to be made, and all of them once more put together. */
export function spaceNeeded(output: StreamInfo, { options }: Pick<Job, 'options'>, framesDone: number, originalBytes: number): number {
  const { master, access } = frameBytes(output);
  const frame = (makesMaster(options) ? master : 0) + (options.access ? access : 0);
  return frame * (2 * output.frames - framesDone) + (options.original ? originalBytes : 0);
}

/** Bytes of memory a piece takes while it is worked: windows of frames over all steps, and the networks. */
export const memoryNeeded = (stream: StreamInfo): number => (512 << 20) + 48 * samplesOf(stream) * 2;

const gigabytes = (bytes: number): string => `${(bytes / 1e9).toFixed(1)} GB`;

/** The stream a job makes, and what of it is done. */
async function stateOf(a: Archive, job: Job): Promise<{ output: StreamInfo; framesDone: number; originalBytes: number } | undefined> {
  const item = await findItem(a, job.itemId);
  if (!item) return undefined;
  const source = measuredStream(item);
  const row = (await a.db('segments').where({ job_id: job.id, state: 'done' }).sum('count as done').first()) as { done: number | null };
  return { output: outputStream(job.plan, source), framesDone: row.done ?? 0, originalBytes: item.source.bytes };
}

/** Jobs that the disk has no room for; each says so, and no more once there is room. */
export async function jobsWithoutRoom(a: Archive, free?: number): Promise<string[]> {
  const { bavail, bsize } = await statfs(a.paths.root);
  const room = (free ?? bavail * bsize) - SPARE;
  const without: string[] = [];
  for (const job of await unfinishedJobs(a)) {
    const state = await stateOf(a, job);
    if (!state) continue;
    const needed = spaceNeeded(state.output, job, state.framesDone, state.originalBytes);
    if (needed > room) {
      without.push(job.id);
      await noteOnJob(
        a,
        job.id,
        `${DISK_FULL} ${gigabytes(needed)} needed, ${gigabytes(Math.max(0, room))} free; it goes on by itself when there is room`,
      );
    } else if (job.message.startsWith(DISK_FULL)) await noteOnJob(a, job.id, '');
  }
  return without;
}

const DISK_FULL = 'disk full:';

/** Whether an error is of a disk without room: nothing is wrong with the job. */
export const isFullDisk = (error: Error): boolean =>
  /ENOSPC|no space left on device/i.test(`${(error as { code?: string }).code} ${error.message}`);
