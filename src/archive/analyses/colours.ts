import { type Guess, guessColours, tonesOf, wholeRegion } from '../../core';
import type { Analysis } from './analysis';
import { bytesOf, bytesText, signedBytesOf } from './bytes';

export type KeptGuess = Omit<Guess, 'answers' | 'doubt'> & { answers: Record<keyof Guess['answers'], string>; doubt: string };

export const encodeGuess = ({ answers, doubt, ...rest }: Guess): KeptGuess => {
  const { likely, warm, cool } = answers;
  return { ...rest, answers: { likely: bytesText(likely), warm: bytesText(warm), cool: bytesText(cool) }, doubt: bytesText(doubt) };
};

export const decodeGuess = ({ answers, doubt, ...rest }: KeptGuess): Guess => {
  return {
    ...rest,
    answers: { likely: signedBytesOf(answers.likely), warm: signedBytesOf(answers.warm), cool: signedBytesOf(answers.cool) },
    doubt: bytesOf(doubt),
  };
};

/** Colours that a monochrome still may have had. */
export const coloursAnalysis: Analysis<Guess> = {
  id: 'colours',
  version: 5,
  name: 'guess of colours',
  needs: [],
  measure: async ({ node }) => guessColours(tonesOf(await node.frame(0, wholeRegion(node.stream)))),
  encode: encodeGuess,
  decode: (kept) => decodeGuess(kept as KeptGuess),
};
