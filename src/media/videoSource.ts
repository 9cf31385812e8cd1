import { LRUCache } from 'lru-cache';
import type { ChildProcess } from 'node:child_process';
import type { Readable } from 'node:stream';
import { chromaSize, type FrameSource, fromRgbPlanes, newPlane, type Picture, type StreamInfo, wholeRegion, widen } from '../core';
import type { MediaFacts } from './facts';
import type { FrameIndex } from './frameIndex';
import { layoutFor, type PixelLayout } from './pixelFormats';
import { UNTRUSTED_INPUT } from './inputs';
import { fileArgument, Interrupted, MediaError, startTool } from './tools';

/** Codecs that know no fields. */
const WHOLE_FRAMES = new Set(
  'mpeg1video h261 h263 flv1 vp3 theora vp6 vp6f vp8 vp9 av1 cinepak msvideo1 indeo3 indeo5 svq1 svq3 rv10 rv20 rv30 rv40 wmv1 wmv2 msmpeg4v1 msmpeg4v2 msmpeg4v3 gif apng webp'.split(
    ' ',
  ),
);

/** Coded frames kept after they were handed out, for windows over neighbouring frames. */
const KEPT = 12;
/** How far ahead a running decoder is followed rather than started anew. */
const FOLLOW = 48;
/** Seconds further back a decoder is started when it came up with too late a frame; at last from the file's start. */
const STEP_BACK = [0, 2, 10, Infinity];
/** Times a decoder that was stopped from outside, or crashed, is started anew for one frame. */
const RESTARTS = 2;

/**
 * Frames of a video by number, decoded by a running ffmpeg as long as they are asked for in order. Every decoded frame
 * is placed by its time stamp, so seeking never slips a frame.
 */
export class VideoSource implements FrameSource {
  readonly codedStep?: number;
  readonly interlaces: boolean;
  private readonly layout: PixelLayout;
  private decoder?: Decoder;
  private readonly kept = new LRUCache<number, Picture>({ max: KEPT });
  private turn: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly path: string,
    private readonly facts: MediaFacts,
    private readonly index: FrameIndex,
    readonly key: string,
    readonly info: StreamInfo = facts.stream,
  ) {
    this.layout = layoutFor(facts.pixelFormat);
    this.codedStep = facts.codedStep;
    this.interlaces = !WHOLE_FRAMES.has(facts.codec);
  }

  frame(n: number): Promise<Picture> {
    const result = this.turn.then(() => this.coded(this.index.map ? this.index.map[n] : n));
    this.turn = result.catch(() => undefined);
    return result;
  }

  close(): void {
    this.decoder?.stop();
    this.decoder = undefined;
    this.kept.clear();
  }

  private async coded(k: number): Promise<Picture> {
    const known = this.kept.get(k);
    if (known) return known;
    let why = 'the file ends before it';
    let restarts = 0;
    for (let attempt = 0; attempt < STEP_BACK.length;) {
      if (!this.decoder || k < this.decoder.next || k > this.decoder.next + FOLLOW) this.start(k, STEP_BACK[attempt]);
      const decoder = this.decoder as Decoder;
      const found = await this.readUntil(k);
      if (found) return found;
      // A stream that broke off says nothing of what the file holds.
      const broken = decoder.brokenOff();
      why = broken ?? decoder.complaint ?? why;
      if (!broken) attempt++;
      else if (restarts++ >= RESTARTS) {
        if (decoder.stopped) throw new Interrupted(`frame ${k} could not be decoded: ${broken}`);
        break;
      }
    }
    throw new MediaError(`Frame ${k} cannot be decoded: ${why}.`);
  }

  /** Starts a decoder at the key frame before frame k, or `back` seconds before that. */
  private start(k: number, back: number): void {
    this.decoder?.stop();
    const { times, keys } = this.index;
    let key = 0;
    for (let i = 0; i < keys.length && keys[i] <= times[k] + 1e-6; i++) key = keys[i];
    const seek = key - this.index.firstTime + this.facts.videoStart - back;
    const stream = this.facts.part?.stream ?? 0;
    this.decoder = new Decoder(this.path, stream, this.layout, this.info, seek > 0.01 ? seek : undefined, seek > 0.01 ? -1 : 0);
  }

  /** Reads on to frame k; undefined when the decoder began after it. A frame that was lost is stood in for by the one before. */
  private async readUntil(k: number): Promise<Picture | undefined> {
    const decoder = this.decoder as Decoder;
    let last: Picture | undefined;
    for (;;) {
      const frame = await decoder.read();
      if (!frame) {
        this.decoder = undefined;
        await decoder.closed;
        return decoder.brokenOff() ? undefined : last;
      }
      const at = frame.time === undefined ? decoder.next : this.nearest(frame.time);
      const first = last === undefined && !decoder.placed;
      decoder.placed = true;
      decoder.next = at + 1;
      if (at > k && first && k > 0 && decoder.sought) {
        decoder.stop();
        this.decoder = undefined;
        return undefined;
      }
      if (at >= 0) this.kept.set(at, frame.picture);
      if (at >= k) {
        const stand = at === k ? frame.picture : (last ?? frame.picture);
        this.kept.set(k, stand);
        return stand;
      }
      last = frame.picture;
    }
  }

  /** The frame whose time is nearest; -1 for what comes before the part begins. */
  private nearest(time: number): number {
    const { times, rate } = this.index;
    if (time < times[0] - rate.den / rate.num / 2) return -1;
    let low = 0,
      high = times.length - 1;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (times[middle] < time - 1e-6) low = middle + 1;
      else high = middle;
    }
    return low > 0 && time - times[low - 1] < times[low] - time ? low - 1 : low;
  }
}

/** One running ffmpeg that writes raw frames, with their time stamps beside. */
class Decoder {
  next = 0;
  placed = false;
  complaint?: string;
  readonly sought: boolean;
  /** When the process is gone. */
  readonly closed: Promise<void>;
  private readonly child: ChildProcess;
  private readonly stdout: Readable;
  private readonly times: (number | undefined)[] = [];
  private readonly frameBytes: number;
  private ended = false;
  private silent = false;
  private notes = '';
  /** Woken by more data, more time stamps, or the end. */
  private wake: () => void = () => undefined;

  constructor(
    path: string,
    stream: number,
    private readonly layout: PixelLayout,
    private readonly info: StreamInfo,
    seek: number | undefined,
    next: number,
  ) {
    this.next = Math.max(0, next);
    this.sought = seek !== undefined;
    const c = layout.planes === 3 ? chromaSize(info, info.width, info.height) : { width: 0, height: 0 };
    this.frameBytes = (info.width * info.height + 2 * c.width * c.height) * (layout.depth > 8 ? 2 : 1);
    this.child = startTool('ffmpeg', [
      '-hide_banner',
      '-nostats',
      '-v',
      'info',
      ...UNTRUSTED_INPUT,
      '-noautorotate',
      '-copyts',
      ...(seek === undefined ? [] : ['-noaccurate_seek', '-ss', seek.toFixed(6)]),
      '-threads',
      '2',
      '-i',
      fileArgument(path),
      '-map',
      `0:V:${stream}`,
      '-an',
      '-sn',
      '-dn',
      '-vf',
      `showinfo=checksum=0${layout.by ? `,format=${layout.by}` : ''}`,
      '-vsync',
      'passthrough',
      '-f',
      'rawvideo',
      '-pix_fmt',
      layout.name,
      'pipe:1',
    ]);
    this.child.stdin?.end();
    this.stdout = this.child.stdout as Readable;
    const end = (): void => {
      this.ended = true;
      this.wake();
    };
    this.stdout.on('readable', () => this.wake());
    for (const event of ['end', 'close', 'error']) this.stdout.on(event, end);
    this.child.on('error', (error) => {
      this.complaint = error.message;
      end();
    });
    this.closed = new Promise((resolve) => {
      this.child.on('close', () => resolve());
      this.child.on('error', () => resolve());
    });
    this.child.stderr?.on('data', (chunk: Buffer) => {
      this.listen(chunk.toString());
      this.wake();
    });
    this.child.stderr?.on('close', () => {
      this.silent = true;
      this.wake();
    });
  }

  stop(): void {
    this.ended = true;
    this.stdout.destroy();
    this.child.kill('SIGKILL');
  }

  /** Why the stream is no whole one although it ended; undefined when its decoder went through to its end. */
  brokenOff(): string | undefined {
    const { exitCode, signalCode } = this.child;
    if (signalCode) return `the decoder was stopped (${signalCode})`;
    return exitCode === 0 ? undefined : (this.complaint ?? `the decoder failed (${exitCode ?? 'it did not start'})`);
  }

  /** Whether it was stopped from outside, so that nothing is known of the file. */
  get stopped(): boolean {
    return this.child.signalCode !== null;
  }

  async read(): Promise<{ time: number | undefined; picture: Picture } | undefined> {
    for (;;) {
      const data = this.stdout.read(this.frameBytes) as Buffer | null;
      if (data?.length === this.frameBytes) {
        while (this.times.length === 0 && !this.silent) await this.woken();
        return { time: this.times.shift(), picture: this.unpack(data) };
      }
      if (data || this.ended) return undefined;
      await this.woken();
    }
  }

  private woken(): Promise<void> {
    return new Promise((resolve) => (this.wake = resolve));
  }

  private listen(text: string): void {
    const lines = (this.notes + text).split('\n');
    this.notes = lines.pop() ?? '';
    for (const line of lines) {
      const stamp = /showinfo.*\bn:\s*\d+ pts:\s*\S+ pts_time:\s*(\S+)/.exec(line);
      if (stamp) this.times.push(stamp[1] === 'NOPTS' ? undefined : Number(stamp[1]));
      else if (/error|invalid|corrupt/i.test(line)) this.complaint = line.replace(/^\[[^\]]*\]\s*/, '').trim();
    }
  }

  private unpack(data: Buffer): Picture {
    const { info, layout } = this;
    const full = info.colour.range === 'full';
    const c = chromaSize(info, info.width, info.height);
    let at = 0;
    const planes = Array.from({ length: layout.planes }, (_, p) => {
      const plane = p === 0 ? newPlane(info.width, info.height) : newPlane(c.width, c.height);
      const bytes = plane.data.length * (layout.depth === 8 ? 1 : 2);
      widen(data.subarray(at, at + bytes), layout.depth, full, plane.data);
      at += bytes;
      return plane;
    });
    if (layout.rgb) {
      const [green, blue, red] = planes.map((plane) => plane.data);
      return fromRgbPlanes(red, green, blue, info);
    }
    return { info, region: wholeRegion(info), planes };
  }
}
