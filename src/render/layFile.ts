import { keepPicture, type LaidAnswer } from '../archive';
import { toRgb, wholeRegion } from '../core';
import { convertBetween, type MediaFacts, MediaError, openSource, probePart } from '../media';

/** A file that becomes a picture to lay in. */
export interface LayFileRequest {
  file: string;
  /** The profile of the colours it is brought to; sRGB where there is none. */
  profile: MediaFacts['profile'];
  /** Where it is kept. */
  folder: string;
}

/** Reads a still with all its bits and keeps it. @throws MediaError where it is none. */
export async function layFile({ file, profile, folder }: LayFileRequest): Promise<LaidAnswer> {
  const probed = await probePart(file, undefined);
  if (probed.facts.kind !== 'still') throw new MediaError('Only a still can be laid in: this is a moving image.');
  const source = await openSource(file, file, probed);
  try {
    const picture = await source.frame(0, wholeRegion(source.info));
    const data = toRgb(picture, 16) as Uint16Array;
    convertBetween(data, probed.facts, { profile });
    const { width, height } = picture.region;
    return { picture: await keepPicture(folder, { data, width, height }), width, height };
  } finally {
    source.close?.();
  }
}
