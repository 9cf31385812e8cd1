import { writeFile } from 'node:fs/promises';
import type { StreamInfo } from '../core';
import type { MediaFacts, TrackFacts } from './facts';
import { UNTRUSTED_INPUT } from './inputs';
import { sayRate } from './matroskaRate';
import { BIT_EXACT, fileArgument, lastComplaint, MediaError, runTool, SAFE_PROTOCOLS } from './tools';

/** Pieces of the picture and the source whose other tracks go with it. */
export interface AssembleRequest {
  /** Encoded pieces in order, with their frames. */
  pieces: { path: string; frames: number }[];
  /** A place for the list of pieces. */
  listFile: string;
  info: StreamInfo;
  source: string;
  facts: MediaFacts;
  /** Part of the running time that was kept, in seconds of the source's first frame; whole when left out. */
  kept?: { start: number; duration: number };
  /** Metadata of the whole film, by ffmpeg's names. */
  metadata?: Record<string, string>;
  output: string;
}

export interface Assembled {
  /** What went in, what was written beside, and what could not be kept, in words. */
  notes: string[];
  /** Files written beside the output. */
  beside: string[];
}

/** Sound a Matroska file holds as it is. */
const MATROSKA_SOUND = new Set([
  'mp2',
  'mp3',
  'ac3',
  'eac3',
  'dts',
  'aac',
  'flac',
  'opus',
  'vorbis',
  'pcm_s16le',
  'pcm_s24le',
  'pcm_s32le',
  'pcm_f32le',
  'pcm_s16be',
  'pcm_s24be',
  'pcm_u8',
  'truehd',
  'alac',
]);
const MATROSKA_SUBTITLES = new Set(['dvd_subtitle', 'hdmv_pgs_subtitle', 'dvb_subtitle', 'subrip', 'ass', 'webvtt', 'srt', 'ssa']);

/** The restored master: Matroska with FFV1, the source's own sound (or FLAC where it must be cut), all subtitles. */
export async function assembleMaster(request: AssembleRequest): Promise<Assembled> {
  const notes: string[] = [];
  const maps: string[] = [];
  let sound = 0,
    subtitles = 0;
  for (const track of request.facts.tracks) {
    if (track.kind === 'sound') {
      const copy = !request.kept && MATROSKA_SOUND.has(track.codec);
      maps.push('-map', `1:${track.index}`, `-c:a:${sound++}`, copy ? 'copy' : 'flac');
      notes.push(`${named(track)}: ${copy ? 'bit for bit as in the source' : 'FLAC, lossless'}`);
    } else {
      const copy = MATROSKA_SUBTITLES.has(track.codec);
      maps.push('-map', `1:${track.index}`, `-c:s:${subtitles++}`, copy ? 'copy' : 'srt');
      notes.push(`${named(track)}: carried over${copy ? '' : ' as SubRip text'}`);
    }
  }
  await join(request, maps, ['-f', 'matroska']);
  await sayRate(request.output, request.info.rate);
  return { notes, beside: [] };
}

/** The access copy: MP4 with H.264 and AAC; subtitles that are pictures go beside it in a Matroska file each. */
export async function assembleAccess(request: AssembleRequest): Promise<Assembled> {
  const notes: string[] = [];
  const beside: string[] = [];
  const maps: string[] = [];
  let sound = 0,
    subtitles = 0;
  for (const track of request.facts.tracks) {
    if (track.kind === 'sound') {
      maps.push('-map', `1:${track.index}`, `-c:a:${sound}`, 'aac', `-b:a:${sound++}`, (track.channels ?? 2) > 2 ? '384k' : '192k');
      notes.push(`${named(track)}: AAC`);
    } else if (!track.bitmap) {
      maps.push('-map', `1:${track.index}`, `-c:s:${subtitles++}`, 'mov_text');
      notes.push(`${named(track)}: carried over as text`);
    }
  }
  await join(request, maps, ['-movflags', '+faststart', '-f', 'mp4']);
  let number = 0;
  for (const track of request.facts.tracks.filter((t) => t.kind === 'subtitles' && t.bitmap)) {
    number++;
    const path = request.output.replace(/\.mp4$/, `.subtitles-${number}${track.language ? `-${track.language}` : ''}.mks`);
    await extract(request, track, path);
    beside.push(path);
    notes.push(`${named(track)}: MP4 cannot hold subtitles that are pictures; written beside it as Matroska`);
  }
  return { notes, beside };
}

function named(track: TrackFacts): string {
  return `${track.kind === 'sound' ? 'sound' : 'subtitles'} ${track.language || 'without language'} (${track.codec})`;
}

/** The source as an input whose time runs with the picture's: first frame at 0. */
function sourceInput({ source, facts, kept }: AssembleRequest): string[] {
  const start = facts.videoStart + (kept?.start ?? 0);
  if (kept) return ['-ss', start.toFixed(6), '-t', kept.duration.toFixed(6), '-i', fileArgument(source)];
  return [...(Math.abs(start) > 1e-6 ? ['-itsoffset', (-start).toFixed(6)] : []), '-i', fileArgument(source)];
}

async function join(request: AssembleRequest, maps: string[], muxer: string[]): Promise<void> {
  const { rate } = request.info;
  const list = request.pieces.map(
    (p) => `file 'file:${p.path.replace(/'/g, `'\\''`)}'\nduration ${((p.frames * rate.den) / rate.num).toFixed(6)}`,
  );
  await writeFile(request.listFile, `ffconcat version 1.0\n${list.join('\n')}\n`);
  const result = await runTool('ffmpeg', [
    '-hide_banner',
    '-nostats',
    '-v',
    'error',
    ...SAFE_PROTOCOLS,
    '-f',
    'concat',
    '-safe',
    '0',
    '-i',
    fileArgument(request.listFile),
    ...(maps.length || request.facts.chapters ? [...UNTRUSTED_INPUT, ...sourceInput(request)] : []),
    '-map',
    '0:v:0',
    '-c:v',
    'copy',
    '-r',
    `${rate.num}/${rate.den}`,
    ...maps,
    // Chapters keep their titles.
    ...['-map_metadata:g', '-1', '-map_metadata:s', '-1'],
    ...Object.entries(request.metadata ?? {}).flatMap(([name, value]) => ['-metadata', `${name}=${value}`]),
    ...languages(request.facts),
    '-map_chapters',
    request.facts.chapters && !request.kept ? '1' : '-1',
    ...BIT_EXACT,
    ...muxer,
    '-n',
    fileArgument(request.output),
  ]);
  if (result.code !== 0) throw new MediaError(`Putting the pieces together failed: ${lastComplaint(result.stderr)}.`);
}

/** Language, title and flags of each track, said anew since all other metadata is left out. */
function languages(facts: MediaFacts): string[] {
  const counts = { sound: 0, subtitles: 0 };
  return facts.tracks.flatMap((track) => {
    const at = `${track.kind === 'sound' ? 'a' : 's'}:${counts[track.kind]++}`;
    const flags = [track.default ? 'default' : '', track.forced ? 'forced' : ''].filter(Boolean).join('+') || '0';
    return [
      ...(track.language ? [`-metadata:s:${at}`, `language=${track.language}`] : []),
      ...(track.title ? [`-metadata:s:${at}`, `title=${track.title}`] : []),
      `-disposition:${at}`,
      flags,
    ];
  });
}

async function extract(request: AssembleRequest, track: TrackFacts, path: string): Promise<void> {
  const result = await runTool('ffmpeg', [
    '-hide_banner',
    '-nostats',
    '-v',
    'error',
    ...UNTRUSTED_INPUT,
    ...sourceInput(request),
    '-map',
    `0:${track.index}`,
    '-c',
    'copy',
    ...(track.language ? ['-metadata:s:0', `language=${track.language}`] : []),
    ...BIT_EXACT,
    '-f',
    'matroska',
    '-n',
    fileArgument(path),
  ]);
  if (result.code !== 0) throw new MediaError(`Subtitles could not be written beside the access copy: ${lastComplaint(result.stderr)}.`);
}

/**
 * Frames every piece but the last must be a multiple of, so that it lasts whole milliseconds: Matroska's clock, and the
 * list of pieces, then never round.
 */
export function pieceUnit(info: StreamInfo): number {
  let a = info.rate.num,
    b = 1000 * info.rate.den;
  while (b) [a, b] = [b, a % b];
  return Math.min(3000, info.rate.num / a);
}
