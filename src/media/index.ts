/** What other rooms may use of the media room: files found out about, read and written. */

// What a file is.
export { sha256File } from './checksum';
export type { MediaFacts } from './facts';
export { type FrameIndex, readFrameIndex } from './frameIndex';
export { cutIndex, framesOf, partKey, partName } from './part';
export { type Probed, probePart, probeParts } from './probe';

// Its pictures.
export { UNTRUSTED_INPUT } from './inputs';
export { openSource, type OpenSource } from './openSource';
export { sourceFilm } from './sourceFilm';
export { webStream } from './webStream';

// Files that are made.
export { assembleAccess, assembleMaster, type AssembleRequest, pieceUnit } from './assemble';
export { accessCodec, type EncoderOutput, masterCodec, VideoEncoder, writtenDepth } from './encode';
export { convertBetween, forSrgbScreen } from './colour/source';
export { matroskaTags, type MetadataRequest, type PlacedPeople, tryMetadata } from './metadata';
export { smallPicture, type SmallPicture, smallStill } from './smallPicture';
export { drawn, exactBytes, predictedBytes, type Sample, type Samples, tilesOf, weightsOf } from './predictedSize';
export { bestQuality, type StillFormat, type StillDetails, writeStill } from './stillOutput';

// The tools that do it, and their bounds.
export { confined, type Limits, TOOL_ENVIRONMENT } from './confine';
export { FRAME_SHARE } from './limits';
export { fileArgument, MediaError, runTool, SAFE_PROTOCOLS } from './tools';
