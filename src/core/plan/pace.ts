/** Seconds of one core for a million pixels a treatment reads, by `paceKey` and quality. */
export type Pace = Record<string, Record<string, number>>;

/** A treatment may go another way about stills than about moving images. */
export const paceKey = (treatment: string, frames: number): string => `${treatment}, ${frames > 1 ? 'moving' : 'still'}`;

/**
 * What a step is expected to take for a frame on all cores, seconds by quality; undefined where nothing was measured.
 *
 * @param effort of a quality with the step's settings, against those that were measured.
 */
export function predictedSeconds(
  pace: Pace | undefined,
  treatment: string,
  input: { width: number; height: number; frames: number },
  cores: number,
  effort: (quality: string) => number = () => 1,
): Record<string, number> | undefined {
  const measured = pace?.[paceKey(treatment, input.frames)];
  if (!measured) return undefined;
  const share = (input.width * input.height) / 1e6 / cores;
  return Object.fromEntries(Object.entries(measured).map(([quality, seconds]) => [quality, seconds * share * effort(quality)]));
}
