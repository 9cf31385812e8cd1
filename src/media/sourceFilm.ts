import type { Readable } from 'node:stream';
import type { MediaFacts } from './facts';
import { UNTRUSTED_INPUT } from './inputs';
import { fileArgument, startTool } from './tools';
import { webStream } from './webStream';

/** Most lines of a film that is only watched, and films watched at once: the longest running gives way. */
const MAX_HEIGHT = 720,
  MAX_FILMS = 4;

const running = new Set<() => void>();

/**
 * A source as it is, from a moment on, in a form that browsers play: fragmented MP4 with H.264 and AAC, made as fast as it is read.
 *
 * @param from seconds after the item's first frame.
 * @param signal ends it.
 */
export function sourceFilm(path: string, facts: MediaFacts, from: number, signal: AbortSignal): ReadableStream<Uint8Array> {
  const sound = facts.tracks.find((t) => t.kind === 'sound');
  const scale = `scale='trunc(iw*sar*min(1,${MAX_HEIGHT}/ih)/2)*2':'trunc(ih*min(1,${MAX_HEIGHT}/ih)/2)*2',setsar=1`;
  const child = startTool('ffmpeg', [
    ...['-v', 'error', ...UNTRUSTED_INPUT, '-noautorotate', '-ss', Math.max(0, facts.videoStart + from).toFixed(3)],
    ...(facts.part?.frames ? ['-t', Math.max(0, facts.duration - from).toFixed(3)] : []),
    ...['-i', fileArgument(path), '-map', `0:V:${facts.part?.stream ?? 0}`, ...(sound ? ['-map', `0:${sound.index}`] : [])],
    ...['-vf', scale, '-c:v', 'libx264', '-preset', 'ultrafast', '-tune', 'zerolatency', '-crf', '20', '-pix_fmt', 'yuv420p', '-g', '25'],
    ...['-c:a', 'aac', '-b:a', '160k', '-ac', '2', '-f', 'mp4', '-movflags', 'frag_keyframe+empty_moov+default_base_moof', 'pipe:1'],
  ]);
  child.stdin?.end();
  child.stderr?.resume();
  const stop = (): void => void child.kill('SIGKILL');
  if (running.size >= MAX_FILMS) [...running][0]();
  running.add(stop);
  signal.addEventListener('abort', stop, { once: true });
  child.on('close', () => {
    running.delete(stop);
    signal.removeEventListener('abort', stop);
  });
  // Its end, whichever it is, is the film's.
  const film = child.stdout as Readable;
  film.on('close', stop);
  return webStream(film);
}
