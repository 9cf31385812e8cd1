import sharp from 'sharp';
import { type Node, toScreen, wholeRegion } from '../../core';
import { displayWidth } from '../../shared/display';
import { forSrgbScreen, type MediaFacts } from '../../media';
import type { Analysis } from './analysis';

/** Longest side of a thumbnail, in pixels. */
const LONGEST = 480;

/** A small picture for contact sheets, as JPEG: of a film its middle frame. It is there long before the condition report. */
export const thumbnailAnalysis: Analysis<Uint8Array> = {
  id: 'thumbnail',
  version: 1,
  name: 'thumbnail',
  needs: [],
  measure: ({ node, facts }) => thumbnailOf(node, facts),
  encode: (jpeg) => Buffer.from(jpeg).toString('base64'),
  decode: (kept) => Buffer.from(kept as string, 'base64'),
};

async function thumbnailOf(node: Node, facts: MediaFacts): Promise<Uint8Array> {
  const info = node.stream;
  const middle = await node.frame(Math.floor(info.frames / 2), wholeRegion(info));
  const { width, height } = middle.region;
  const scale = Math.min(1, LONGEST / Math.max(displayWidth(info), height));
  const pixels = toScreen(middle);
  forSrgbScreen(pixels, facts);
  return sharp(pixels, { raw: { width, height, channels: 4 }, limitInputPixels: false })
    .resize(Math.max(1, Math.round(displayWidth(info) * scale)), Math.max(1, Math.round(height * scale)), { fit: 'fill' })
    .flatten()
    .jpeg({ quality: 88 })
    .toBuffer();
}
