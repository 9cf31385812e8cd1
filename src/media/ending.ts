import { UNTRUSTED_INPUT } from './inputs';
import { fileArgument, runTool } from './tools';

/** Seconds at the end that are decoded. */
const LAST = 1.5;
/** How decoders speak of data that breaks off, as against a start between key frames. */
const BROKEN = /damaged|truncated|invalid data|corrupt|incomplete|overread|partial file|error while decoding/i;

/** Whether a video's last frames decode whole: where a copy was broken off, the last one does not. */
export async function endsWhole(path: string, stream = 0): Promise<boolean> {
  const tail = [
    '-v',
    'error',
    ...UNTRUSTED_INPUT,
    '-sseof',
    `-${LAST}`,
    '-i',
    fileArgument(path),
    '-map',
    `0:V:${stream}`,
    '-f',
    'null',
    '-',
  ];
  const { stderr } = await runTool('ffmpeg', tail, { limit: 60 });
  return !BROKEN.test(stderr);
}
