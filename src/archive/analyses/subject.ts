import { findSubject, type Subject, wholeRegion } from '../../core';
import type { Analysis } from './analysis';
import { bytesOf, bytesText } from './bytes';

/** Where the people of a still are. */
export const subjectAnalysis: Analysis<Subject> = {
  id: 'subject',
  version: 1,
  name: 'subject',
  needs: [],
  measure: async ({ node }) => findSubject(await node.frame(0, wholeRegion(node.stream))),
  encode: ({ slopes, levels, ...rest }) => ({ ...rest, slopes: bytesText(slopes), levels: bytesText(levels) }),
  decode(kept) {
    const { slopes, levels, ...rest } = kept as Omit<Subject, 'slopes' | 'levels'> & { slopes: string; levels: string };
    return { ...rest, slopes: numbers(slopes), levels: numbers(levels) };
  },
};

const numbers = (text: string): Int16Array => new Int16Array(bytesOf(text).buffer);
