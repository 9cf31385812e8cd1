import { type ConditionReport, examine, type FrameSource, type Node } from '../../core';
import type { Analysis } from './analysis';

/** What is wrong with a picture or a film, and how sure that is. */
export const conditionAnalysis: Analysis<ConditionReport> = {
  id: 'condition',
  version: 13,
  name: 'condition report',
  needs: ['frame-times'],
  measure: ({ node, source }) => examine(node.inputs.length ? asSource(node) : source),
  encode: (report) => report,
  decode: (kept) => kept as ConditionReport,
};

/** What a plan makes of a source, as a source of its own. */
const asSource = (node: Node): FrameSource => ({
  info: node.stream,
  key: node.key,
  frame: (n, region) => node.frame(n, region),
});
