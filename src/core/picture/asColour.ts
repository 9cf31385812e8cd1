import { newPlane, NEUTRAL_CHROMA, type Picture, planeRegion, type StreamInfo } from './picture';

/** A monochrome picture in the planes of a stream that has colours, all of them grey; any other as it is. */
export function asColour(picture: Picture, info: StreamInfo): Picture {
  if (picture.planes.length === info.planes) return picture;
  const grey = [1, 2].map((index) => {
    const { width, height } = planeRegion(info, index, picture.region);
    return newPlane(width, height, NEUTRAL_CHROMA);
  });
  return { info, region: picture.region, planes: [...picture.planes, ...grey] };
}
