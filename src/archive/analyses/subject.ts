import { findSubject, type Subject, wholeRegion } from '../../core';
import type { Analysis } from './analysis';

/** Where the people of a still are. */
export const subjectAnalysis: Analysis<Subject> = {
  id: 'subject',
  version: 1,
  name: 'subject',
  needs: [],
  measure: async ({ node }) => findSubject(await node.frame(0, wholeRegion(node.stream))),
  encode: ({ slopes, levels, ...rest }) => ({ ...rest, slopes: text(slopes), levels: text(levels) }),
  decode(kept) {
    const { slopes, levels, ...rest } = kept as Omit<Subject, 'slopes' | 'levels'> & { slopes: string; levels: string };
    return { ...rest, slopes: numbers(slopes), levels: numbers(levels) };
  },
};

const text = ({ buffer, byteOffset, byteLength }: Int16Array): string => Buffer.from(buffer, byteOffset, byteLength).toString('base64');

function numbers(base64: string): Int16Array {
  const bytes = Uint8Array.from(Buffer.from(base64, 'base64'));
  return new Int16Array(bytes.buffer);
}
