import type { Rational } from '../../shared/maps/rational';

/**
 * Pictures as the core sees them: planar samples that always carry their colour description, pixel aspect and place in
 * the whole frame. Samples are 16-bit code values, left-aligned: a source of depth d is stored as `v << (16 - d)` when
 * its range is limited (ITU-R BT.601/709/2100 define the codes that way) and as `v * 65535 / (2^d - 1)` when it is full.
 */

/** A rectangle in whole pixels of the luma grid. */
export interface Region {
  x: number;
  y: number;
  width: number;
  height: number;
}

export type Matrix = 'bt601' | 'bt709' | 'bt2020';
export type SampleRange = 'limited' | 'full';
/** Opto-electronic transfer: `video` is BT.601/709/2020's camera curve, `srgb` IEC 61966-2-1. */
export type Transfer = 'video' | 'srgb';
export type Primaries = 'smpte170m' | 'bt470bg' | 'bt709' | 'bt2020';

export interface ColourDescription {
  matrix: Matrix;
  range: SampleRange;
  transfer: Transfer;
  primaries: Primaries;
}

/** Fields of an interlaced frame in time order, or `progressive` for full frames. */
export type FieldOrder = 'progressive' | 'top-first' | 'bottom-first';

/** What every picture of a stream has in common. */
export interface StreamInfo {
  /** Storage size in pixels. */
  width: number;
  height: number;
  /** Width of a pixel against its height; 8:9 for 4:3 NTSC on 720 x 480. */
  pixelAspect: Rational;
  /** log2 of how much coarser the chroma planes are; 0/0 for 4:4:4, 1/1 for 4:2:0. */
  chromaShiftX: number;
  chromaShiftY: number;
  /** 1 for monochrome, 3 for luma and two chroma planes. */
  planes: 1 | 3;
  /** Bits a sample had in the source. */
  depth: number;
  /** Whether the file holds red, green and blue: the planes are luma and colour differences of 16 bits, of which the same ones come back. */
  rgb?: boolean;
  colour: ColourDescription;
  fieldOrder: FieldOrder;
  /** Frames; 1 for a still. */
  frames: number;
  /** Frames a second; 0/1 for a still. */
  rate: Rational;
}

export interface Plane {
  width: number;
  height: number;
  /** Row by row, `width` samples a row. */
  data: Uint16Array;
}

export interface Picture {
  info: StreamInfo;
  /** Which part of the frame the planes hold; aligned to the chroma grid except at the frame's right and bottom edge. */
  region: Region;
  planes: Plane[];
}

export const NEUTRAL_CHROMA = 32768;

export function newPlane(width: number, height: number, fill = 0): Plane {
  const data = new Uint16Array(width * height);
  if (fill !== 0) data.fill(fill);
  return { width, height, data };
}

/** Luma code value of black and of white in 16 bits. */
export function lumaLimits(range: SampleRange): { black: number; white: number } {
  return range === 'limited' ? { black: 16 << 8, white: 235 << 8 } : { black: 0, white: 65535 };
}

/** 16-bit steps that make one step of the 0 to 255 scale, in which noise is stated. */
export const SIGMA_UNIT = 256;

export function wholeRegion(info: { width: number; height: number }): Region {
  return { x: 0, y: 0, width: info.width, height: info.height };
}

/** Pixels, sideways and downwards alike, to which regions are aligned so that chroma samples and pairs of lines stay whole. */
export const chromaGrid = (info: StreamInfo): number => 1 << Math.max(1, info.chromaShiftX, info.chromaShiftY);

export function chromaSize(info: StreamInfo, width: number, height: number): { width: number; height: number } {
  return {
    width: (width + (1 << info.chromaShiftX) - 1) >> info.chromaShiftX,
    height: (height + (1 << info.chromaShiftY) - 1) >> info.chromaShiftY,
  };
}

/** Size of plane `index` for a region of the luma grid. */
export function planeRegion(info: StreamInfo, index: number, region: Region): Region {
  if (index === 0) return region;
  const x = region.x >> info.chromaShiftX;
  const y = region.y >> info.chromaShiftY;
  const size = chromaSize(info, region.x + region.width, region.y + region.height);
  return { x, y, width: size.width - x, height: size.height - y };
}

/** Grows a region by `border` pixels a side, aligns it outwards to `grid`, and keeps it inside the frame. */
export function growRegion(region: Region, border: number, grid: number, bounds: { width: number; height: number }): Region {
  const x = Math.max(0, Math.floor((region.x - border) / grid) * grid);
  const y = Math.max(0, Math.floor((region.y - border) / grid) * grid);
  const right = Math.min(bounds.width, Math.ceil((region.x + region.width + border) / grid) * grid);
  const bottom = Math.min(bounds.height, Math.ceil((region.y + region.height + border) / grid) * grid);
  return { x, y, width: right - x, height: bottom - y };
}

/** Copies a rectangle out of a plane; the rectangle must lie inside it. */
export function cutPlane(plane: Plane, x: number, y: number, width: number, height: number): Plane {
  return x === 0 && y === 0 && width === plane.width && height === plane.height ? plane : copyPlane(plane, x, y, width, height);
}

/** A rectangle of a plane as samples of its own, which may be written to; the rectangle must lie inside it. */
export function copyPlane(plane: Plane, x: number, y: number, width: number, height: number): Plane {
  if (x < 0 || y < 0 || x + width > plane.width || y + height > plane.height) {
    throw new RangeError(`cut ${width}x${height}+${x}+${y} leaves a plane of ${plane.width}x${plane.height}`);
  }
  const out = newPlane(width, height);
  for (let row = 0; row < height; row++) {
    const from = (y + row) * plane.width + x;
    out.data.set(plane.data.subarray(from, from + width), row * width);
  }
  return out;
}

/** The part of a picture inside `region`, which its own region must contain. */
export function cutPicture(picture: Picture, region: Region): Picture {
  const own = picture.region;
  if (own.x === region.x && own.y === region.y && own.width === region.width && own.height === region.height) return picture;
  const planes = picture.planes.map((plane, index) => {
    const from = planeRegion(picture.info, index, own);
    const to = planeRegion(picture.info, index, region);
    return cutPlane(plane, to.x - from.x, to.y - from.y, to.width, to.height);
  });
  return { info: picture.info, region, planes };
}

/** The part of a picture inside `region`, which its own region must contain, as fresh samples that may be written to. */
export function copyPicture(picture: Picture, region: Region): Picture {
  const planes = picture.planes.map((plane, index) => {
    const from = planeRegion(picture.info, index, picture.region),
      to = planeRegion(picture.info, index, region);
    return copyPlane(plane, to.x - from.x, to.y - from.y, to.width, to.height);
  });
  return { info: picture.info, region, planes };
}

/** Writes a part of a picture over its place in a larger one, whose samples change. */
export function putPart(into: Picture, part: Picture): void {
  for (const [index, plane] of part.planes.entries()) {
    const own = planeRegion(into.info, index, into.region),
      at = planeRegion(into.info, index, part.region);
    const { width, data } = into.planes[index];
    for (let y = 0; y < at.height; y++)
      data.set(plane.data.subarray(y * at.width, (y + 1) * at.width), (at.y - own.y + y) * width + at.x - own.x);
  }
}

/** The smallest region that holds both. */
export function coveringBoth(a: Region, b: Region): Region {
  const x = Math.min(a.x, b.x),
    y = Math.min(a.y, b.y);
  return { x, y, width: Math.max(a.x + a.width, b.x + b.width) - x, height: Math.max(a.y + a.height, b.y + b.height) - y };
}

/** The part of a region inside a frame. */
export function insideFrame(region: Region, frame: { width: number; height: number }): Region {
  const x = Math.max(0, region.x),
    y = Math.max(0, region.y);
  return {
    x,
    y,
    width: Math.max(0, Math.min(frame.width, region.x + region.width) - x),
    height: Math.max(0, Math.min(frame.height, region.y + region.height) - y),
  };
}

export const regionsMeet = (a: Region, b: Region): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height;

export function contains(outer: Region, inner: Region): boolean {
  return (
    inner.x >= outer.x &&
    inner.y >= outer.y &&
    inner.x + inner.width <= outer.x + outer.width &&
    inner.y + inner.height <= outer.y + outer.height
  );
}
