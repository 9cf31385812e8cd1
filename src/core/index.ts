/** What other rooms may use of the core: the computation, which knows no files, processes or screen. */

// Errors, and what becomes of them between threads.
export { CodedError, codeOf, errorOf, type Failure, failureOf, isFailure, isUserError } from './errors';

// Pictures: planes, colours, streams.
export { withFinerChroma } from './picture/chroma';
export { lightTables, plainTables } from './picture/light';
export { defaultMatrix, fromRgb, fromRgbPlanes, putRgb, toRgb, toRgbPlanes } from './picture/matrix';
export {
  chromaGrid,
  chromaSize,
  type ColourDescription,
  cutPicture,
  type FieldOrder,
  growRegion,
  insideFrame,
  newPlane,
  type Picture,
  planeRegion,
  putPart,
  type Region,
  type SampleRange,
  type StreamInfo,
  wholeRegion,
} from './picture/picture';
export { type LaidPicture, reductionOf, rgbThrough } from './picture/laid';
export { areaPicture, reducedPicture } from './picture/reduced';
export { normalStream, randomStream } from './picture/random';
export { toScreen } from './picture/screen';

// What is measured of a source.
export { measureBlur } from './condition/blur';
export { type DirtReading, measureDirt } from './condition/dirt';
export { examine, examineFields, type ExamineOptions, type ScanReading } from './condition/examine';
export { measureGrain } from './condition/grain';
export type { ConditionReport } from './condition/report';
export {
  type FrameMeasures,
  measureFrame,
  TRACE_KINDS,
  tracedFrames,
  type TraceId,
  type TraceKind,
  type Traces,
  tracesOf,
  worstPlaces,
} from './condition/traces';

// Where the people of a picture are.
export { type Face as SeenFace, fullRangeDetector } from './faces/detector';
export { viewOf } from './vision/view';
export { type Face, findFaces, type Faces } from './faces/find';
export { facesAt, type FilmFaces, joinFilmFaces, measureFilmFaces, spanOf } from './faces/film';
export { inlayOfFace } from './faces/inlaid';
export { boundsOf, frameOf } from './faces/mesh';
export { faceParts } from './faces/parts';
export { describeFaces, type DescribedFace, type FaceSpan, type FoundAppearance } from './faces/describe';
export { type GroupFace, type Grouped, groupFaces, likenesses, type PairAnswer, type PairQuestion } from './people/group';
export { centredFaces, likeness } from './people/likeness';
export { ageSpan, type DatedFace, referenceFit, referenceWorth } from './people/reference';
export { findSilvering, type Silvering } from './silvering/find';
export { findSubject } from './subject/find';
export type { Rgb } from './vision/rgb';
export type { Subject } from './subject/subject';

// Colours of monochrome pictures.
export { type AlikePlace, alikePlaces } from './colour/alike';
export { type FilmColours, joinFilmColours } from './colour/film';
export { KEY_EVERY, measureFilm } from './colour/measureFilm';
export { type Guess, guessColours } from './colour/guess';
export { type OwnColours, type Tones, tonesOf } from './colour/tones';

// Treatments and their settings.
export { treatment, TREATMENTS } from './treatments/register';
export { type SettingSpec, settingSpecs } from './treatments/setting';
export { type FoundFaults, PlanError, type Treatment } from './treatments/treatment';
export { crop, CropSettings } from './treatments/crop/crop';
export { inlay } from './treatments/inlay/inlay';
export { FacesSettings } from './treatments/faces/settings';
export { InlaySettings } from './treatments/inlay/settings';
export { trim, TrimSettings } from './treatments/trim/trim';

// Plans: read, proposed, compared, kept as templates.
export { planChanges } from './plan/changes';
export { coarsePlan } from './plan/coarse';
export { whatIsDone } from './plan/done';
export { evidenceMap, type EvidenceMap, inventedShare, ownPlan, paintEvidence, supportedPlan } from './plan/evidence';
export { type Pace, paceKey, predictedSeconds } from './plan/pace';
export { draftPlan, proposePlan, readyStep, stamped, withQuality } from './plan/plan';
export { readPlan } from './plan/read';
export { monochromePlan } from './plan/monochrome';
export { overBlackAndWhite } from './plan/seeThrough';
export { planFromTemplate, type PlanTemplate, readTemplate, type TemplateEntry, templateOf, type TemplateStep } from './plan/template';
export { SHIPPED_TEMPLATES } from './plan/templates';
export { planWarnings } from './plan/warnings';

// The graph that a plan becomes, which is asked for pictures.
export { PictureCache } from './graph/cache';
export { networksOf } from './graph/cleaning';
export { compile, costOf, frameBefore, type Graph, placeBetween } from './graph/graph';
export {
  type FindAnalysis,
  type KnownAnalysis,
  type LaidNode,
  type Layout,
  layOut,
  type MissingAnalysis,
  outputStream,
  SOURCE_NODE,
} from './graph/layout';
export { Cancelled, type FrameSource, type Node, type Resources } from './graph/node';
export { foundFaults, paintFaults } from './graph/faults';
export { tiledPicture } from './graph/tiled';

// Networks of the best qualities.
export { networkCard, type NetworkName, networkNames, useNetworkThreads } from './networks/model';
export { forgetAll } from './networks/remembered';

// Pixel kernels, for those who hand samples in and out.
export { narrow, widen } from './kernels/depth';
export { applicationRoot, kernels } from './kernels/wasm';
