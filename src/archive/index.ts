/** What other rooms may use of the archive: what is kept, and the rules it is kept by. */

// The archive itself.
export { type Archive, archive, openArchive } from './database';
export { claimArchive, openVerified, takeSnapshot } from './guard';
export { archivePaths, pathInside, safeName, withoutFolders } from './paths';

// What is kept, as others see it.
export {
  type Collection,
  type CollectionSummary,
  type Deliverable,
  type DeliverableKind,
  type Delivery,
  type FoundItem,
  type Item,
  type Job,
  type JobProgress,
  type KeptTemplate,
  type PlanHistory,
  type PlanVersion,
  type QueueSettings,
  type Segment,
  type Strip,
  type StripContent,
  type StripFigures,
  type TemplatePreview,
  type TracesAnswer,
  UNFINISHED_STATES,
} from './types';

export type {
  AppearanceAnswer,
  AwaitedAnalysis,
  CollectionAnswer,
  ExaminedAnswer,
  FacesAnswer,
  FoundFaceAnswer,
  InPictureAnswer,
  LaidAnswer,
  ItemAnswer,
  NamesAnswer,
  PaintedAnswer,
  PeopleAnswer,
  PersonAnswer,
  PlanAnswer,
  ProofFigures,
  ProofReport,
  ReferenceInfo,
  ReferencesAnswer,
  PrintsAnswer,
  SplitAnswer,
  AlikeAnswer,
  StrokesAnswer,
  StrokesChangedAnswer,
} from './answers';

// Collections, sources and items.
export { createCollection, findCollection, listCollections } from './collections';
export { filesOfFolder, type IntakeResult, overlapsArchive, takeIn } from './intake';
export {
  findByName,
  findItem,
  itemAnalysisFile,
  listItems,
  markItem,
  measuredStream,
  picturedItems,
  pictureKey,
  probedItem,
  saveAbout,
  saveCondition,
  underExamination,
  sourcePath,
  thumbnailPath,
  unexamined,
} from './items';
export { itemsOfPrints } from './prints';
export { splitItem } from './split';
export { receiveUpload, recoverUploads } from './uploads';

// What was measured.
export type { Analysis, Piece } from './analyses/analysis';
export { conditionAnalysis } from './analyses/condition';
export { thumbnailAnalysis } from './analyses/thumbnail';
export { analysisFile, findAnalysisIn, keepAnalysis, type KeptAnalysis, pieceFile, readAnalysis } from './analyses/kept';
export { ANALYSES, analysisOf } from './analyses/register';
export { facesAnalysis } from './analyses/faces';
export { filmColoursAnalysis } from './analyses/filmColours';
export { filmFacesAnalysis } from './analyses/filmFaces';
export { tracesAnalysis } from './analyses/traces';
export { withMeasured } from './measured';

// People.
export { appearancesAnalysis } from './analyses/appearances';
export {
  type Appearance,
  appearancesIn,
  appearancesOf,
  keepAppearances,
  lookedForFaces,
  portraitOf,
  wantAppearances,
} from './people/appearances';
export { lastPeopleChange, undoPeople } from './people/changes';
export { forgetPerson } from './people/forget';
export {
  answerPair,
  dismissAppearances,
  groupingInput,
  keepGroups,
  mergePersons,
  moveAppearances,
  PeopleError,
  type Person,
  personsOf,
  tellPerson,
} from './people/persons';

// Hand work.
export { readDocument } from './marks/documents';
export { readMarks } from './marks/lists';
export { keepPicture, readPicture } from './marks/pictures';
export type { ReferenceOrigin } from './marks/referenceDocument';
export { keepReference, readReference } from './marks/references';
export { paintDocument, paintedStore } from './marks/painted';
export { changeStrokes, readStrokes, type StrokeChanges } from './marks/strokes';

// Plans, templates and strips.
export { describePlan, type PlanDescription, type TreatmentInfo, treatmentInfos } from './describe';
export { currentPlan, goToVersion, nameVersion, planHistory, savePlan } from './plans';
export { listStrips, readStrip, removeStrip, saveStrip, updateStrip } from './strips';
export { applyTemplate, findTemplate, listTemplates, previewTemplate, removeTemplate, saveTemplate } from './templates';

// Jobs and the queue.
export {
  cancelJob,
  completeSegment,
  createJob,
  endJob,
  findJob,
  type FinishLease,
  jobNotes,
  leaseFinish,
  leaseSegment,
  listJobs,
  noteOnJob,
  releaseAll,
  releaseFinish,
  releaseSegment,
  renewFinish,
  renewLease,
  resetSegment,
  retrySegment,
  segmentFiles,
  unfinishedJobs,
} from './jobs';
export { isQueueOpen, moveJob, pauseJob, queueSettings, resumeJob, retryJob, setQueue, timeOfDay } from './queue';

// Deliveries and their checksums.
export { LeaseLost, listDeliveries, recordDelivery } from './deliveries';
export { checkAll, checkDelivery, checkNext, type FixityResult } from './fixity';
