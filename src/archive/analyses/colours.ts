import { type Guess, guessColours, tonesOf, wholeRegion } from '../../core';
import type { Analysis } from './analysis';
import { bytesOf, bytesText } from './bytes';

type KeptGuess = Omit<Guess, 'answers' | 'doubt'> & { answers: Record<keyof Guess['answers'], string>; doubt: string };

/** Colours that a monochrome still may have had. */
export const coloursAnalysis: Analysis<Guess> = {
  id: 'colours',
  version: 1,
  name: 'guess of colours',
  needs: [],
  measure: async ({ node }) => guessColours(tonesOf(await node.frame(0, wholeRegion(node.stream)))),
  encode: ({ answers, doubt, ...rest }): KeptGuess => {
    const { likely, warm, cool } = answers;
    return { ...rest, answers: { likely: bytesText(likely), warm: bytesText(warm), cool: bytesText(cool) }, doubt: bytesText(doubt) };
  },
  decode(kept) {
    const { answers, doubt, ...rest } = kept as KeptGuess;
    const signed = (text: string): Int8Array => new Int8Array(bytesOf(text).buffer);
    return {
      ...rest,
      answers: { likely: signed(answers.likely), warm: signed(answers.warm), cool: signed(answers.cool) },
      doubt: bytesOf(doubt),
    };
  },
};
