import sharp from 'sharp';
import { type ConditionReport, examine, type FrameSource, type Node, toScreen, wholeRegion } from '../../core';
import { displayWidth } from '../../shared/display';
import { forSrgbScreen, type MediaFacts } from '../../media';
import type { Analysis } from './analysis';

/** The condition report, and a small picture for contact sheets. */
export interface Examined {
  report: ConditionReport;
  /** JPEG. */
  thumbnail: Uint8Array;
}

/** Longest side of the small picture, in pixels. */
const THUMBNAIL = 480;

/** What is wrong with a picture or a film, and how sure that is. */
export const conditionAnalysis: Analysis<Examined> = {
  id: 'condition',
  version: 11,
  name: 'condition report',
  needs: ['frame-times'],
  async measure({ node, source, facts }) {
    return { report: await examine(node.inputs.length ? asSource(node) : source), thumbnail: await thumbnailOf(node, facts) };
  },
  encode: ({ report, thumbnail }) => ({ report, thumbnail: Buffer.from(thumbnail).toString('base64') }),
  decode(kept) {
    const { report, thumbnail } = kept as { report: ConditionReport; thumbnail: string };
    return { report, thumbnail: Buffer.from(thumbnail, 'base64') };
  },
};

/** What a plan makes of a source, as a source of its own. */
const asSource = (node: Node): FrameSource => ({
  info: node.stream,
  key: node.key,
  frame: (n, region) => node.frame(n, region),
});

async function thumbnailOf(node: Node, facts: MediaFacts): Promise<Uint8Array> {
  const info = node.stream;
  const middle = await node.frame(Math.floor(info.frames / 2), wholeRegion(info));
  const { width, height } = middle.region;
  const scale = Math.min(1, THUMBNAIL / Math.max(displayWidth(info), height));
  const pixels = toScreen(middle);
  forSrgbScreen(pixels, facts);
  return sharp(pixels, { raw: { width, height, channels: 4 }, limitInputPixels: false })
    .resize(Math.max(1, Math.round(displayWidth(info) * scale)), Math.max(1, Math.round(height * scale)), { fit: 'fill' })
    .flatten()
    .jpeg({ quality: 88 })
    .toBuffer();
}
