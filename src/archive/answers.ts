import type { AlikePlace, FaceSpan, FoundFaults, MissingAnalysis, StreamInfo } from '../core';
import type { Place } from '../shared/maps/place';
import type { FacePart, PartPath } from '../shared/faceParts';
import type { InlayPlace } from '../shared/inlay';
import type { StrokeMark } from '../shared/marks';
import type { PlanDescription, TreatmentInfo } from './describe';
import type { ReferenceOrigin } from './marks/referenceDocument';
import type { Person } from './people/persons';
import type { Collection, Item, PlanHistory, PlanVersion } from './types';

/** What routes answer that is not kept as such. */

/** What the bench needs of an item. */
export interface ItemAnswer {
  item: Item;
  /** Whether it is not examined yet, or could not be, and its thumbnail is there. */
  pictured: boolean;
  collection: Collection;
  plan?: PlanVersion;
  history: PlanHistory;
  description?: PlanDescription;
  treatments: TreatmentInfo[];
}

/** A plan that was kept or gone back to, and what it makes of the picture. */
export interface PlanAnswer {
  plan: PlanVersion;
  description: PlanDescription;
}

/** A collection's contact sheet. */
export interface CollectionAnswer {
  collection: Collection;
  items: Item[];
  /** Of those that are not examined yet, or could not be, the ones whose thumbnail is there. */
  pictured: string[];
}

/** An item that is being examined, or waits for it. */
export interface ExaminedAnswer {
  id: string;
  name: string;
  collectionName: string;
}

/** The items that the prints on a scan became. */
export interface PrintsAnswer {
  items: Item[];
}

/** The two items that one became. */
export interface SplitAnswer {
  first: Item;
  second: Item;
}

/** Names a delivery's files would have, or what is wrong with what was chosen. */
export interface NamesAnswer {
  names: string[];
  problem?: string;
}

/** A painted part of a mask, by the name of its document. */
export interface PaintedAnswer {
  document: string;
}

/** A face of somebody, as People shows it. */
export interface AppearanceAnswer {
  id: string;
  itemId: string;
  itemName: string;
  /** Width in pixels of its picture. */
  pixels: number;
  /** Year its picture was taken, where that is told, and the age the person had. */
  year?: number;
  age?: number;
  /** How good a reference it is, 0 to 1. */
  worth: number;
  /** Where a film shows it. */
  along?: FaceSpan;
}

/** Somebody of a collection, with all pictures of them in the order they were taken. */
export interface PersonAnswer extends Person {
  faces: AppearanceAnswer[];
  /** The best reference of each span of ages: from, and before; one of all where ages are not known. */
  references: { span?: [number, number]; face: string }[];
}

/** The people of a collection. */
export interface PeopleAnswer {
  collection: Collection;
  persons: PersonAnswer[];
  /** Faces that were seen once, or that nothing is known of. */
  single: AppearanceAnswer[];
  /** Pairs that may be one person, the likeliest first. */
  questions: { a: string; b: string }[];
  /** Share of the collection's stills, and of the films that are to be looked through, that were looked at, 0 to 1. */
  share: number;
  /** Films that are not looked through unless somebody wants it, for that takes long. */
  films: number;
  /** What the last change was, where it can be taken back. */
  undo?: string;
  /** Why some pictures could not be looked at. */
  problem?: string;
}

/** Somebody in an item's picture: who, and where, in fractions of the source. */
export interface InPictureAnswer {
  face: string;
  /** Left out of those who are not named. */
  name?: string;
  x: number;
  y: number;
  width: number;
  height: number;
}

/** A face that was found, its box in fractions of the source. */
export interface FoundFaceAnswer {
  x: number;
  y: number;
  width: number;
  height: number;
  /** Its width in pixels of the source. */
  pixels: number;
  /** Deviation of its softness, in pixels; left out where it cannot be told. */
  blur?: number;
  /** Degrees it is turned to its own left. */
  yaw: number;
  /** What marks its parts, in pixels of the source; left out where no mesh could be laid over it. */
  parts?: Record<FacePart, PartPath[]>;
  /** Where a face that is laid over it comes to lie; left out where no mesh could be laid over it. */
  inlay?: InlayPlace;
  /** Of a film: the frame that shows it best, where the box lies, and the first and the last that show it. */
  along?: FaceSpan;
}

/** The faces of a still, the largest first, as far as they are found. */
export interface FacesAnswer {
  faces: FoundFaceAnswer[];
  /** Share that is looked through, 0 to 1. */
  share: number;
  /** Why it stopped, where it did. */
  problem?: string;
}

/** A picture that steps may lay in, by the name it is kept under, and its size in pixels. */
export interface LaidAnswer {
  picture: string;
  width: number;
  height: number;
}

/** Other pictures that are chosen for a face, the best first. */
export interface ReferencesAnswer {
  pictures: string[];
  /** Who it is, where that has a name. */
  person?: string;
  /** Whether nobody knows who it is. */
  unknown?: true;
}

/** What is known of a picture that faces are restored by. */
export interface ReferenceInfo extends ReferenceOrigin {
  picture: string;
  /** Pixels across the face. */
  pixels: number;
  /** A small picture of it, as an address that holds all of it. */
  small: string;
}

/** The strokes of a list. */
export interface StrokesAnswer {
  strokes: StrokeMark[];
}

/** Where other shots of a film show what a mark is on. */
export interface AlikeAnswer {
  places: AlikePlace[];
  /** Whether the colours along the film are measured; until then there is no place. */
  measured: boolean;
}

/** A changed list of strokes, by its name. */
export interface StrokesChangedAnswer {
  list: string;
}

/** Something a step waits for, and how far it is. */
export interface AwaitedAnalysis {
  step: string;
  name: string;
  /** 0 to 1. */
  share: number;
  secondsLeft?: number;
  problem?: string;
}

/** What is measured of a part of a result. */
export interface ProofFigures {
  /** Width of the clear edges in pixels; null where there are none. */
  edges: number | null;
  /** Deviation of the grain, on the 0 to 255 scale. */
  noise: number;
}

/** What a proof says beside its pixels. */
export interface ProofReport {
  width: number;
  height: number;
  /** Where the picture lies in the plan's output, as fractions of it: whole source pixels seldom meet it exactly. */
  place: Place;
  /** Stream after the whole plan. */
  output: StreamInfo;
  milliseconds: number;
  /** Share of the part that the source does not support, when the evidence map was asked for. */
  invented?: number;
  figures?: ProofFigures;
  /** Faults of the part by kind, and the share of it they cover, when they were asked for. */
  found?: Pick<FoundFaults, 'counts' | 'share' | 'unused'>;
  /** What each step takes for a whole frame, reckoned from this answer; 0 where all was remembered. */
  steps: { id: string; milliseconds: number }[];
  /** Steps left out until something is measured. */
  missing: MissingAnalysis[];
  /** How far what they wait for is. */
  awaited: AwaitedAnalysis[];
}
