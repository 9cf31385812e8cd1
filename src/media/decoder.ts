import type { ChildProcess } from 'node:child_process';
import type { Readable } from 'node:stream';
import { chromaSize, fromRgbPlanes, newPlane, type Picture, type StreamInfo, wholeRegion, widen } from '../core';
import { UNTRUSTED_INPUT, UNTRUSTED_SCRIPT } from './inputs';
import type { PixelLayout } from './pixelFormats';
import { fileArgument, startTool } from './tools';

/** What is decoded. */
export interface DecodedStream {
  path: string;
  /** Number among the file's picture streams. */
  stream: number;
  layout: PixelLayout;
  info: StreamInfo;
}

/** Where decoding begins. */
export interface Beginning {
  /** Seconds in the file's own time; its start when left out. */
  at?: number;
  /** The file's own time at its start. */
  fileStart: number;
}

/** Decoding threads: more take longer to begin. */
const THREADS = '2';

/** A decoder that waits reads what it is to open from its input: a start of ffmpeg takes a tenth of a second before it reads a byte. */
const SCRIPT_INPUT = [...UNTRUSTED_SCRIPT, '-threads', THREADS, '-i', 'pipe:0'];

/** One running ffmpeg that writes raw frames, with their time stamps beside. */
export class Decoder {
  /** Number of the frame that comes next, as far as it is known. */
  next = 0;
  /** Whether it began within the file rather than at its start. */
  beganWithin = false;
  /** Whether its first frame was placed by its time. */
  placed = false;
  /** The last fault it spoke of. */
  complaint?: string;
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

  /** Seconds its time stamps are behind the file's own. */
  private behind = 0;

  /** @param at where it begins; one that waits is told by `begin`. */
  constructor(
    private readonly of: DecodedStream,
    at: Beginning | 'waits',
  ) {
    const { info, layout, stream } = of;
    const c = layout.planes === 3 ? chromaSize(info, info.width, info.height) : { width: 0, height: 0 };
    this.frameBytes = (info.width * info.height + 2 * c.width * c.height) * (layout.depth > 8 ? 2 : 1);
    this.child = startTool('ffmpeg', [
      ...['-hide_banner', '-nostats', '-v', 'info', '-noautorotate', '-copyts'],
      ...(at === 'waits' ? SCRIPT_INPUT : this.input(at)),
      ...['-map', `0:V:${stream}`, '-an', '-sn', '-dn'],
      ...['-vf', `showinfo=checksum=0${layout.by ? `,format=${layout.by}` : ''}`, '-vsync', 'passthrough'],
      ...['-f', 'rawvideo', '-pix_fmt', layout.name, 'pipe:1'],
    ]);
    if (at !== 'waits') this.child.stdin?.end();
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

  private input({ at, fileStart }: Beginning): string[] {
    this.beganWithin = at !== undefined;
    return [
      ...UNTRUSTED_INPUT,
      ...(at === undefined ? [] : ['-noaccurate_seek', '-ss', (at - fileStart).toFixed(6)]),
      ...['-threads', THREADS, '-i', fileArgument(this.of.path)],
    ];
  }

  /** Lets one that waits begin. */
  begin({ at, fileStart }: Beginning): void {
    this.beganWithin = at !== undefined;
    this.behind = at ?? fileStart;
    const name = fileArgument(this.of.path).replaceAll("'", "'\\''");
    this.child.stdin?.end(`ffconcat version 1.0\nfile '${name}'\n${at === undefined ? '' : `inpoint ${at.toFixed(6)}\n`}`);
  }

  /** Whether it can still begin or go on. */
  get lives(): boolean {
    return !this.ended && this.child.exitCode === null && this.child.signalCode === null;
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
      if (stamp) this.times.push(stamp[1] === 'NOPTS' ? undefined : Number(stamp[1]) + this.behind);
      else if (/error|invalid|corrupt/i.test(line)) this.complaint = line.replace(/^\[[^\]]*\]\s*/, '').trim();
    }
  }

  private unpack(data: Buffer): Picture {
    const { info, layout } = this.of;
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
