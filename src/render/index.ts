/** What other rooms may use of the render room: plans looked at and run. */

// Pictures and measurements to look at.
export { examineLater } from './examination';
export { predictSize } from './predictSize';
export { itemFaces } from './itemFaces';
export { lookForPeople, peopleChanged, peopleIn, peopleOf, wantFilms } from './people';
export { itemTraces } from './itemTraces';
export { alikeElsewhere, coarseLook, machinePace, openAhead, paintItem, proofItem } from './proofPool';

// Papers for the client.
export { contactSheet } from './collectionSheet';

// Plans run over whole items and files.
export { jobFrame } from './jobFrame';
export { cropOut, croppedPlan } from './cropOut';
export { layFace, layOutside, layPicture } from './laidPicture';
export { layFile } from './layFile';
export { chooseReferences, largestFace, referenceFromFile, referenceInfos } from './references';
export { patternProblem, previewNames } from './names';
export { startJob } from './startJob';
export { checkOutput, damageIn, stillThreads, treatFile } from './treatFile';

// The server's own beginning.
export { startArchive } from './start';
export { makePrints } from './prints';
