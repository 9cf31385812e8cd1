import { open, stat } from 'node:fs/promises';
import { type ColourDescription, defaultMatrix, type FieldOrder, type SampleRange } from '../core';
import { type Rational, reduceRational } from '../shared/maps/rational';
import { endsWhole } from './ending';
import type { MediaFacts, TrackFacts } from './facts';
import { meantRate, readFrameIndex, type FrameIndex } from './frameIndex';
import { refusedSize } from './limits';
import { hasAlpha, layoutFor, type PixelLayout } from './pixelFormats';
import type { Part } from './part';
import { codedStep } from './quantiser';
import { isCameraRaw } from './cameraRaw';
import { NO_ALPHA, probeCodedStill, probeStill, sharpFormat, targa } from './stillProbe';
import { UNTRUSTED_INPUT, holdsOnePicture } from './inputs';
import { fileArgument, lastComplaint, MediaError, runTool } from './tools';

/** Seconds within which a file's head is understood, or it is none that is meant well. */
const SOON = 60;

/** Bytes of a file's start and of its end that tell its format. */
const HEAD = 4096,
  TAIL = 64;

export interface Probed {
  facts: MediaFacts;
  /** Times of all frames, for moving images. */
  index?: FrameIndex;
}

interface ProbeStream {
  index: number;
  codec_type?: string;
  codec_name?: string;
  width?: number;
  height?: number;
  pix_fmt?: string;
  sample_aspect_ratio?: string;
  r_frame_rate?: string;
  avg_frame_rate?: string;
  start_time?: string;
  time_base?: string;
  field_order?: string;
  color_range?: string;
  color_space?: string;
  color_transfer?: string;
  color_primaries?: string;
  channels?: number;
  sample_rate?: string;
  disposition?: Record<string, number>;
  tags?: Record<string, string>;
  side_data_list?: { rotation?: number }[];
}

interface ProbeOutput {
  streams?: ProbeStream[];
  format?: { format_name?: string; start_time?: string; duration?: string };
  chapters?: unknown[];
}

/** The parts of a file that are pictures by themselves: pages of a still, picture streams of a container; none where it is one picture. */
const partsIn = ({ holds: { pages = [], streams = 1 } = {} }: MediaFacts): Part[] => [
  ...pages.map((page) => ({ page })),
  ...Array.from({ length: streams > 1 ? streams : 0 }, (_, stream) => ({ stream })),
];

/** Facts of every part of a file that is a picture by itself. @throws MediaError as `probe`. */
export async function probeParts(path: string): Promise<Probed[]> {
  const first = await probe(path);
  const parts = partsIn(first.facts);
  if (parts.length === 0) return [first];
  const probed: Probed[] = [];
  for (const part of parts) {
    const own = await probe(path, part);
    own.facts.notes.push(`one of ${parts.length} pictures the file holds`);
    probed.push(own);
  }
  return probed;
}

/**
 * Facts of one part of a file.
 * @param number of the part, from 1; the first when left out.
 * @throws MediaError as `probe`, and where the file has no such part.
 */
export async function probePart(path: string, number: number | undefined): Promise<Probed> {
  const first = await probe(path);
  if (number === undefined) return first;
  const parts = partsIn(first.facts);
  const count = Math.max(1, parts.length);
  if (!Number.isInteger(number) || number < 1 || number > count)
    throw new MediaError(`The file holds ${count === 1 ? 'one picture' : `${count} pictures, 1 to ${count}`}.`);
  return parts.length ? probe(path, parts[number - 1]) : first;
}

/**
 * Facts of any file, still or moving.
 * @param part the page or picture stream that is meant; the first when left out.
 * @throws MediaError, in words, for a file that is empty, no picture and no video, or too large in pixels.
 */
export async function probe(path: string, part?: Part): Promise<Probed> {
  const about = await stat(path);
  if (!about.isFile()) throw new MediaError('It is no regular file.');
  const { size } = about;
  if (size === 0) throw new MediaError('The file is empty.');
  const head = Buffer.alloc(HEAD),
    tail = Buffer.alloc(TAIL);
  const file = await open(path, 'r');
  try {
    await file.read(head, 0, HEAD, 0);
    await file.read(tail, 0, TAIL, Math.max(0, size - TAIL));
  } finally {
    await file.close();
  }
  if (isCameraRaw(head))
    throw new MediaError(
      'This is a camera’s raw file (DNG, CR2 or of that kind), which no library of this program develops: develop it to a TIFF of 16 bits, and bring that.',
    );
  const still = sharpFormat(head) && (await probeStill(path, size, part?.page));
  if (still) return { facts: still };
  const unsigned = targa(head, tail, path);
  return unsigned ? { facts: probeCodedStill(unsigned, size) } : probeCoded(path, size, part?.stream);
}

/** Facts of what ffmpeg reads. */
async function probeCoded(path: string, bytes: number, stream?: number): Promise<Probed> {
  const result = await runTool(
    'ffprobe',
    ['-v', 'error', ...UNTRUSTED_INPUT, '-of', 'json', '-show_format', '-show_streams', '-show_chapters', fileArgument(path)],
    { limit: SOON },
  );
  const output = parse(result.stdout);
  const streams = output.streams ?? [];
  const videos = streams.filter((s) => s.codec_type === 'video' && !s.disposition?.attached_pic);
  const video = videos.at(stream ?? 0);
  if (result.code !== 0 || !output.format) throw new MediaError(notMedia(result.stderr));
  if (!video?.width || !video.height) {
    throw new MediaError(
      streams.some((s) => s.codec_type === 'audio') ? 'The file holds sound but no picture.' : 'The file is no picture and no video.',
    );
  }
  if (/^(ansi|bintext|xbin|idf)$/.test(video.codec_name ?? '') || output.format.format_name === 'tty')
    throw new MediaError('The file is no picture and no video.');
  const refused = refusedSize(video.width, video.height, bytes);
  if (refused) throw new MediaError(refused);
  if (holdsOnePicture(output.format.format_name ?? '')) {
    const { width, height, codec_name: codec = 'unknown', pix_fmt: pixelFormat = 'gbrp' } = video;
    return { facts: probeCodedStill({ codec, pixelFormat, width, height }, bytes) };
  }
  const index = await readFrameIndex(path, video.time_base ?? '1/1000', candidateRates(video), stream);
  if (index.frames === 0) throw new MediaError('The file announces a video but holds no frame of it.');
  const layout = layoutFor(video.pix_fmt ?? 'yuv420p');
  const damage = [...index.damage];
  if (result.stderr.trim()) damage.push(`reading it, the demuxer said: ${lastComplaint(result.stderr)}`);
  const duration = (index.frames * index.rate.den) / index.rate.num;
  const [whole, step] = await Promise.all([
    damage.length > 0 || endsWhole(path, stream),
    codedStep(path, video.codec_name ?? '', duration / 3, stream),
  ]);
  if (!whole) damage.push('its last frames do not decode whole: the file seems to be cut off');
  const formatStart = Number(output.format.start_time ?? 0) || 0;
  const facts: MediaFacts = {
    kind: 'moving',
    ...(stream !== undefined && { part: { stream } }),
    ...(videos.length > 1 && { holds: { streams: videos.length } }),
    container: output.format.format_name ?? 'unknown',
    codec: video.codec_name ?? 'unknown',
    pixelFormat: video.pix_fmt ?? 'unknown',
    bytes,
    stream: {
      width: video.width,
      height: video.height,
      pixelAspect: pixelAspect(video),
      chromaShiftX: layout.chromaShiftX,
      chromaShiftY: layout.chromaShiftY,
      planes: layout.planes,
      depth: layout.depth,
      ...(layout.rgb && { rgb: true }),
      colour: colourOf(video, layout),
      fieldOrder: fieldOrder(video.field_order),
      frames: index.frames,
      rate: index.rate,
    },
    duration,
    videoStart: index.firstTime - formatStart,
    variableRate: index.map !== undefined,
    timeBase: video.time_base,
    codedStep: step,
    tracks: streams.flatMap(track),
    chapters: output.chapters?.length ?? 0,
    damage,
    notes: [],
  };
  if (facts.variableRate) facts.notes.push('the frames come at uneven times; they are put on an even rate, each at its nearest time');
  if (hasAlpha(facts.pixelFormat)) facts.notes.push(NO_ALPHA);
  facts.notes.push(...soundApart(streams, video));
  const turned = video.side_data_list?.find((d) => d.rotation)?.rotation;
  if (turned) facts.notes.push(`the container asks for a turn of ${turned} degrees, which is left to the player`);
  return { facts, index };
}

/** Seconds that sound may start before or after the picture before that is worth a word; interleaving alone gives some hundredths. */
const APART = 0.15;

/** Says of each sound track that starts at another time than the picture. */
function soundApart(streams: ProbeStream[], video: ProbeStream): string[] {
  return streams.flatMap((s) => {
    const late = Number(s.start_time) - Number(video.start_time);
    if (s.codec_type !== 'audio' || !(Math.abs(late) >= APART)) return [];
    return [`the sound of track ${s.index} starts ${Math.abs(late).toFixed(2)} s ${late > 0 ? 'after' : 'before'} the picture`];
  });
}

function parse(stdout: Buffer): ProbeOutput {
  try {
    return JSON.parse(stdout.toString() || '{}') as ProbeOutput;
  } catch {
    return {};
  }
}

function notMedia(stderr: string): string {
  if (/not on whitelist|Invalid argument$/i.test(stderr.trim()))
    return 'The file is a list of other files, or of a format that is not taken in.';
  if (stderr.includes('moov atom not found'))
    return 'The file is cut off: the index at its end (moov) is missing, so its frames cannot be found.';
  return `The file is no picture and no video, or too damaged to tell (${lastComplaint(stderr)}).`;
}

export function rational(text: string | undefined): Rational | undefined {
  const match = /^(\d+)[/:](\d+)$/.exec(text ?? '');
  if (!match || Number(match[1]) === 0 || Number(match[2]) === 0) return undefined;
  return reduceRational({ num: Number(match[1]), den: Number(match[2]) });
}

function candidateRates(video: ProbeStream): Rational[] {
  return [rational(video.avg_frame_rate), rational(video.r_frame_rate)]
    .filter((r): r is Rational => r !== undefined && r.num / r.den <= 1000)
    .map(meantRate);
}

/** Pixel aspect by its tag; square without one. */
function pixelAspect(video: ProbeStream): Rational {
  return rational(video.sample_aspect_ratio) ?? { num: 1, den: 1 };
}

function fieldOrder(tag: string | undefined): FieldOrder {
  if (tag === 'tt' || tag === 'bt') return 'top-first';
  if (tag === 'bb' || tag === 'tb') return 'bottom-first';
  return 'progressive';
}

const MATRICES: Record<string, ColourDescription['matrix']> = {
  bt709: 'bt709',
  smpte170m: 'bt601',
  bt470bg: 'bt601',
  fcc: 'bt601',
  bt2020nc: 'bt2020',
  bt2020c: 'bt2020',
};
const PRIMARIES: Record<string, ColourDescription['primaries']> = {
  bt709: 'bt709',
  smpte170m: 'smpte170m',
  smpte240m: 'smpte170m',
  bt470bg: 'bt470bg',
  bt2020: 'bt2020',
};

/** Tags, with the usual defaults where they are silent: BT.601 for SD, BT.709 for HD. */
function colourOf(video: ProbeStream, layout: PixelLayout): ColourDescription {
  const height = video.height ?? 0;
  const matrix = MATRICES[video.color_space ?? ''] ?? defaultMatrix(height);
  const sd = height === 576 || height === 288 ? 'bt470bg' : 'smpte170m';
  return {
    matrix,
    range: rangeOf(video, layout),
    transfer: video.color_transfer === 'iec61966-2-1' ? 'srgb' : 'video',
    primaries: PRIMARIES[video.color_primaries ?? ''] ?? (matrix === 'bt601' ? sd : matrix === 'bt2020' ? 'bt2020' : 'bt709'),
  };
}

function rangeOf({ color_range: tag }: ProbeStream, { rgb, planes, full }: PixelLayout): SampleRange {
  if (rgb) return 'full';
  if (planes === 1 && tag === 'tv') return 'limited';
  return full || tag === 'pc' ? 'full' : 'limited';
}

/** A language as files name it (BCP 47); what is none becomes part of no file's name. */
const languageTag = (text = ''): string => (/^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$/.test(text) ? text.toLowerCase() : '');

/** Longest title kept, in characters. */
const LONGEST_TITLE = 200;
const plainText = (text = ''): string =>
  text
    .replace(/[\u0000-\u001f\u007f]/g, ' ')
    .trim()
    .slice(0, LONGEST_TITLE);

const BITMAP_SUBTITLES = new Set(['dvd_subtitle', 'hdmv_pgs_subtitle', 'dvb_subtitle', 'xsub']);

function track(s: ProbeStream): TrackFacts[] {
  if (s.codec_type !== 'audio' && s.codec_type !== 'subtitle') return [];
  const sound = s.codec_type === 'audio';
  return [
    {
      index: s.index,
      kind: sound ? 'sound' : 'subtitles',
      codec: s.codec_name ?? 'unknown',
      language: languageTag(s.tags?.language),
      title: plainText(s.tags?.title),
      default: s.disposition?.default === 1,
      forced: s.disposition?.forced === 1,
      ...(sound ? { channels: s.channels, sampleRate: Number(s.sample_rate) } : { bitmap: BITMAP_SUBTITLES.has(s.codec_name ?? '') }),
    },
  ];
}
