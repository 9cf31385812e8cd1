import { chromaGrid, contains, cutPicture, growRegion, wholeRegion, type Picture, type Region, type StreamInfo } from '../picture/picture';
import { CodedError } from '../errors';
import type { PictureCache } from './cache';
import { BORDER, cellsCover } from '../networks/cells';
import { clean } from '../networks/clean';
import { combined, type CleanRequest } from '../networks/steering';
import { cleanWindow, prepareMoving } from '../treatments/grain/moving';
import { stillReach } from '../treatments/grain/standing';
import type { Place } from '../treatments/treatment';
import type { Mask } from './mask';
import { maskedRequest, mixedByMask, outsideKept } from './masked';
import { frameBefore, placeInOutput, planStreams, type ReadyStep } from './plan';

/** Where source frames come from. */
export interface FrameSource {
  info: StreamInfo;
  /** Names the source among all others, such as its checksum. */
  key: string;
  /** Quantiser step it was coded with, where its codec tells. */
  codedStep?: number;
  /** Whether its codec can hold interlaced frames as such; true where it is not known. */
  interlaces?: boolean;
  /** The frame, at least the region of it. Frames are asked for mostly in order. */
  frame(n: number, region: Region): Promise<Picture>;
}

/** Raised when the caller no longer wants the result. */
export class Cancelled extends CodedError {
  constructor() {
    super('cancelled', 'the result is no longer wanted');
  }
}

export interface RunOptions {
  /** Results kept; may be shared between runs, since each is kept under what it depends on. */
  cache: PictureCache;
  /** Asked between steps; true stops the work. */
  cancelled?: () => boolean;
}

/**
 * Runs a plan by pulling: a request for a part of an output frame asks each step for what it needs of the one before.
 * Proofs and renders both come from here, so a proof shows what the render will give, byte for byte.
 */
export class PlanRun {
  /** Streams before the first step and after each. */
  readonly streams: StreamInfo[];
  private readonly keys: string[];
  /** Time spent in each step's own work, milliseconds, the frames it worked on, and the pixels it worked, borders included. */
  readonly spent: { milliseconds: number; frames: number; pixels: number }[];
  private shared = new Map<string, unknown>();

  constructor(
    private readonly source: FrameSource,
    private readonly steps: ReadyStep[],
    private readonly options: RunOptions,
  ) {
    this.streams = planStreams(steps, source.info);
    this.keys = [source.key];
    for (const { treatment, settings, mask, span } of steps) {
      const held = `${mask ? JSON.stringify(mask) : ''}${span ? JSON.stringify(span) : ''}`;
      this.keys.push(`${this.keys[this.keys.length - 1]}|${treatment.id} ${treatment.version} ${JSON.stringify(settings)}${held}`);
    }
    this.spent = steps.map(() => ({ milliseconds: 0, frames: 0, pixels: 0 }));
  }

  get output(): StreamInfo {
    return this.streams[this.streams.length - 1];
  }

  /**
   * Part of frame `n` after the first `after` steps (all of them when left out).
   * @throws Cancelled, or what the source or a step throws.
   */
  async picture(n: number, region: Region, after = this.steps.length): Promise<Picture> {
    const info = this.streams[after];
    if (n < 0 || n >= info.frames) throw new RangeError(`frame ${n} of ${info.frames}`);
    if (!contains(wholeRegion(info), region))
      throw new RangeError(`region ${JSON.stringify(region)} leaves the frame of ${info.width} x ${info.height}`);
    const known = this.options.cache.find(this.keys[after], n, region);
    if (known) return cutPicture(known, region);
    const made = after === 0 ? await this.source.frame(n, region) : await this.step(after - 1, n, region);
    this.options.cache.keep(this.keys[after], n, made);
    return cutPicture(made, region);
  }

  /** Frame of the stream after `after` steps that the plan's output frame `n` belongs to. */
  frameAt(n: number, after: number): number {
    return frameBefore(this.steps, this.streams, n, this.steps.length, after);
  }

  /** Whether frame `n` after a step lies outside of the step's running time, so that it leaves the frame as it is. */
  private rests(index: number, n: number): boolean {
    const { span } = this.steps[index];
    if (!span) return false;
    const source = frameBefore(this.steps, this.streams, n, index + 1, 0);
    return source < span.first || source > span.last;
  }

  /** Where the whole frame after `after` steps lies in the plan's output, in output pixels. */
  placeOf(after: number): Place {
    return placeInOutput(this.steps, this.streams, after);
  }

  private async step(index: number, n: number, region: Region): Promise<Picture> {
    if (this.rests(index, n)) return { ...(await this.picture(n, region, index)), info: this.streams[index + 1] };
    if (this.cleanRequest(index)) return this.cleanedAtOnce(index, n, region);
    const { treatment, settings, mask } = this.steps[index];
    const input = this.streams[index],
      output = this.streams[index + 1];
    const needs = treatment.needs(settings, input);
    const wanted = needs.whole ? wholeRegion(output) : growRegion(region, 0, chromaGrid(output), output);
    const from = treatment.regionAt ? treatment.regionAt(wanted, settings, input) : wanted;
    const part = needs.whole ? wholeRegion(input) : growRegion(from, needs.border, Math.max(chromaGrid(input), needs.grid), input);
    const frame = treatment.frameAt ? treatment.frameAt(n, settings, input) : n;
    const window: Picture[] = [];
    for (let at = frame - needs.before; at <= frame + needs.after; at++) {
      window.push(await this.picture(Math.min(input.frames - 1, Math.max(0, at)), part, index));
      if (this.options.cancelled?.()) throw new Cancelled();
    }
    // A treatment that needs no border of its own must not see more than it was asked for.
    const exact =
      needs.border === 0 && !needs.whole ? window.map((p) => cutPicture(p, growRegion(from, 0, chromaGrid(input), input))) : window;
    const share = <T>(make: () => T): T => this.once(`${index}/${frame}/${JSON.stringify(part)}`, make);
    const start = performance.now();
    const made = await treatment.apply(exact, settings, { frame: n, region: wanted, asked: region, input, output, share });
    const result = mask ? mixedByMask(exact[needs.before], made, mask) : made;
    this.account(index, start, growRegion(result.region, needs.border, 1, output));
    return { ...result, info: output };
  }

  /** @param worked the part that was made, and the border it took. */
  private account(index: number, start: number, { width, height }: Region): void {
    const spent = this.spent[index];
    spent.milliseconds += performance.now() - start;
    spent.frames++;
    spent.pixels += width * height;
  }

  /** What a step takes for a whole frame, reckoned from what it worked; 0 where all was remembered. Milliseconds. */
  costOf(index: number): number {
    const { milliseconds, pixels } = this.spent[index];
    const { width, height } = this.streams[index + 1];
    return pixels > 0 ? (milliseconds * width * height) / pixels : 0;
  }

  private cleanRequest(index: number): CleanRequest | undefined {
    const { treatment, settings } = this.steps[index];
    return treatment.steering?.(settings, this.streams[index]);
  }

  /** What the parts of one frame have in common: made for the first of them, kept until another frame's turn. */
  private once<T>(key: string, make: () => T): T {
    if (!this.shared.has(key)) this.shared = new Map([[key, make()]]);
    return this.shared.get(key) as T;
  }

  /** A step of the cleaning networks and those right before it at once: the picture before them, steered by all of them. */
  private async cleanedAtOnce(last: number, n: number, region: Region): Promise<Picture> {
    const requests: CleanRequest[] = [];
    let first = last + 1;
    // Of the steps that rest at this frame the pass knows nothing.
    const masks: (Mask | undefined)[] = [];
    for (let request = this.cleanRequest(last); request; request = first > 0 ? this.cleanRequest(first - 1) : undefined) {
      first--;
      if (this.rests(first, n)) continue;
      requests.push(request);
      masks.push(this.steps[first].mask);
    }
    const info = this.streams[first];
    const cover = cellsCover(region, info);
    const masked = requests.map((request, i) => {
      const mask = masks[i];
      return mask ? maskedRequest(request, mask, info, cover) : request;
    });
    const { steering, share, moving, still } = combined(masked);
    const part = moving ? wholeRegion(info) : growRegion(cover, BORDER, 2, info);
    const reach = moving ? Math.max(2, stillReach(info, still)) : 0;
    const window: Picture[] = [];
    for (let at = n - reach; at <= n + reach; at++) {
      window.push(await this.picture(Math.min(info.frames - 1, Math.max(0, at)), part, first));
      if (this.options.cancelled?.()) throw new Cancelled();
    }
    const start = performance.now();
    const made = moving
      ? await cleanWindow(
          window,
          this.once(`${first}/${n}`, () => prepareMoving(window, combined(requests).steering)),
          cover,
          steering,
          share,
        )
      : await clean(window[0], cover, steering, share);
    const everywhere = masks.some((mask) => mask === undefined);
    const result = everywhere ? made : outsideKept(window[reach], made, masks as Mask[]);
    this.account(last, start, result.region);
    return { ...result, info: this.streams[last + 1] };
  }
}
