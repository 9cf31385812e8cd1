export { bytesFromPlane, halveBytes, motionLevel } from './motion';
export { padField, deinterlaceFrame } from './deinterlace';
export { padPlane, shrinkPlane } from './shrink';
export { toFloat, fromFloat, plainToFloat, plainFromFloat, resampleRows, resampleColumns, limitRinging, addScaled, subtract } from './resample';
export { holdRange } from './range';
export { smoothAlongEdges, padFloats, cutFloats } from './edges';
export { whiteNoise, addNoise } from './noise';
export { mixLuma, mixChroma } from './matrix';
export { toScreen } from './screen';
