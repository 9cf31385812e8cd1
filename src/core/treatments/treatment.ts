import type { ConditionReport } from '../condition/report';
import { CodedError } from '../errors';
import type { Projective } from '../../shared/maps/place';
import type { TimeMap } from '../../shared/maps/time';
import type { CleanRequest } from '../networks/steering';
import type { NetworkName } from '../networks/model';
import type { LaidPicture } from '../picture/laid';
import type { Picture, Region, StreamInfo } from '../picture/picture';

/** What a treatment reads to make one output frame. */
export interface Needs {
  /** Input frames before and after the one the output belongs to. */
  before: number;
  after: number;
  /** Input pixels round the wanted part. */
  border: number;
  /** The part is grown outwards to multiples of this many pixels. */
  grid: number;
  /** The whole frame is needed whatever part is wanted. */
  whole: boolean;
}

/** Where a step should not stand, and why; it runs there all the same. */
export interface OrderRule {
  /** Treatment that must not be switched on before it. */
  after: string;
  /** What comes of it, and what to do, in words. */
  text: string;
}

/** Hand work of a step. */
export interface HandWork {
  /** In the order it was done. */
  marks: readonly unknown[];
  /** Where the input's pixels lie in the source, in which marks lie. */
  place: Projective;
}

export interface ApplyContext extends HandWork {
  /** Output frame number. */
  frame: number;
  /** Frames of the source that the window's pictures were seen in. */
  seen: readonly number[];
  /** Wanted part of the output: the whole frame where `needs` says so. */
  region: Region;
  /** Part that was really asked for, inside `region`: the least the result must cover. */
  asked: Region;
  /** Stream before and after this treatment. */
  input: StreamInfo;
  output: StreamInfo;
  /** What `reads` and `readsOfSource` name, by its id. */
  analyses: Readonly<Record<string, unknown>>;
  /** What `pictures` names, by its name. */
  pictures: Readonly<Record<string, LaidPicture>>;
  /** Result shared by the output frames that come of one input frame. */
  share<T>(make: () => T): T;
}

/** What is known of a part before its pictures are. */
export type PartWork = HandWork & Pick<ApplyContext, 'analyses' | 'pictures' | 'seen'>;

/** Faults that a treatment found in a part of a picture. */
export interface FoundFaults {
  region: Region;
  /** 1 where there is one, row by row. */
  mask: Uint8Array;
  /** Kinds of faults as they are called on screen, and how many there are. */
  counts: { name: string; count: number }[];
  /** Share of the part that is faulty, 0 to 1. */
  share: number;
  /** Names of other pictures that it was to work by and did not, since they do not agree with what is seen. */
  unused?: string[];
}

/**
 * One kind of processing. Everything the application knows about it stands here: interface, command line, plan checks,
 * proofs, rendering and provenance read this object.
 */
export interface Treatment<S extends object = object> {
  id: string;
  /** Rises when what it computes changes, so that nothing remembered of the former computation passes for the present one. */
  version: number;
  /** As it is called on screen. */
  name: string;
  /** The finding it answers, in words. */
  answers: string;
  settings: new () => S;
  /** The output has the input's raster and rate, so that a mask can hold the treatment to a part of the picture. */
  inPlace?: true;
  /** Whether it can work on such a stream at all. */
  suits(input: StreamInfo): boolean;
  /**
   * The stream after the treatment.
   * @throws PlanError when the settings cannot work on this stream.
   */
  output(input: StreamInfo, settings: S): StreamInfo;
  needs(settings: S, input: StreamInfo): Needs;
  /** It may work on frames of two fields: it leaves each line in its place, or is what makes full frames of them. */
  fields?: true;
  /** Analyses of its input that it needs, by their ids. */
  reads?(settings: S, input: StreamInfo): string[];
  /** Analyses of the source itself, whatever steps come before. */
  readsOfSource?(settings: S, input: StreamInfo): string[];
  /** Other pictures that it lays in, by the names they are kept under. */
  pictures?(settings: S): string[];
  /** Kind of hand work it takes. */
  marks?: string;
  /** Part of the input that hand work and found things within a part of it need, where that is more than `needs` says; undefined where it is not. */
  reach?(region: Region, settings: S, input: StreamInfo, work: PartWork): Region | undefined;
  /** Whether a part of the input needs no frames beside its own, whatever `needs` says: the window then holds that frame again and again. */
  alone?(region: Region, settings: S, input: StreamInfo, work: PartWork): boolean;
  /** Treatments it had better not come after. */
  order?: OrderRule[];
  /** Times of the output's frames, in frames of the input; the same ones when left out. */
  time?(settings: S, input: StreamInfo): TimeMap;
  /** Part of the input that a part of the output comes from, before the border; the same one when left out. */
  regionAt?(region: Region, settings: S, input: StreamInfo): Region;
  /** Where the output's pixels lie in the input, frame by frame of the output; the input fills the output when left out. */
  geometry?(settings: S, input: StreamInfo, frame: number): Projective;
  /** Settings from the condition report, and whether the step starts switched on. */
  propose(report: ConditionReport, input: StreamInfo): { on: boolean; settings: Partial<S> } | undefined;
  /** How many times as strong noise in dark parts is after it; 1 when left out. */
  lifts?(settings: S, input: StreamInfo): number;
  /** One line for the ladder. */
  summary(settings: S, input: StreamInfo): string;
  /**
   * The output's `region`, or more, or with `needs.whole` at least what was asked for. `window` holds `before` + 1 +
   * `after` input pictures in order, each covering what `needs` and `regionAt` ask for, repeated at the clip's ends.
   * @throws NetworkError when the best choice needs a network that cannot be used.
   */
  apply(window: Picture[], settings: S, context: ApplyContext): Picture | Promise<Picture>;
  /** Settings that a line drawn over the picture says: its length in pixels of the input and its angle in degrees, of use under some values of another. */
  line?: { length: keyof S & string; angle: keyof S & string; when: { key: keyof S & string; is: string } };
  /** Setting, in degrees clockwise, that a line drawn along what should be level says. */
  level?: keyof S & string;
  /** Settings that say where a picture is laid, in pixels of the source, which two handles over the picture move. */
  placing?: Record<'picture' | 'shape' | 'x' | 'y' | 'width' | 'turn', keyof S & string>;
  /** What it takes for a fault within `context.asked`, for a look at that alone; left out where it works on all of the picture. */
  found?(window: Picture[], settings: S, context: ApplyContext): Promise<FoundFaults>;
  /**
   * What the step would have the cleaning network take for damage; undefined when it does not use it. A pass of its own runs the
   * network in place of `apply`, once for all steps in a row that answer.
   */
  steering?(settings: S, input: StreamInfo): CleanRequest | undefined;
  /** The same settings changed so that the step adds nothing its source does not say; left out where it never does. */
  supported?(settings: S): S | undefined;
  /** The settings changed so that the step takes nothing of other pictures; left out where it never does. */
  borrowed?(settings: S): S;
  /** Settings besides the quality under which a machine's pace is measured, where the treatment's own do not suit any small picture. */
  pacedWith?: Partial<S>;
  /**
   * Settings that make nearly the same of a picture reduced by a whole number, `leave` where it is not seen in one; without it there is no such look.
   */
  coarse?(settings: S, by: number): S | 'leave';
  /** Settings of a quick first look that a whole proof follows; the same ones when left out. */
  draft?(settings: S): S;
  /** Work for a pixel read, against that under the settings of `pacedWith`; 1 when left out. */
  effort?(settings: S, input: StreamInfo): number;
  /** The networks of the best choice; none when the settings choose the fast way. */
  networks?(settings: S, input: StreamInfo): NetworkName[];
}

/** A plan or setting that cannot work, said in words for the restorer. */
export class PlanError extends CodedError {
  constructor(message: string, options?: ErrorOptions) {
    super('plan', message, options);
  }
}

export const NO_NEEDS: Needs = { before: 0, after: 0, border: 0, grid: 1, whole: false };

/** The same picture described by another stream, such as after a change of rate. */
export function relabel(picture: Picture, info: StreamInfo, region = picture.region): Picture {
  return { info, region, planes: picture.planes };
}

/** Depth of a result whose samples are finer than the source's. */
export function finerDepth(input: StreamInfo): number {
  return Math.max(input.depth, input.frames > 1 ? 10 : 16);
}
