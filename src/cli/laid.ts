import { InlaySettings, layOut, outputStream, PlanError, type StreamInfo } from '../core';
import type { Probed } from '../media';
import { croppedPlan, layFile } from '../render';
import { BROUGHT_BACK, fitsPart, placeFilling } from '../shared/inlay';
import type { Place } from '../shared/maps/place';
import type { Plan } from '../shared/plan';

/** A still that is treated, and what the command line says of parts of its result. */
export interface Parts {
  /** Files that are laid in, each as FILE@X,Y,WIDTH,HEIGHT in pixels of the plan's result. */
  lay: string[];
  /** The part that is written, as X,Y,WIDTH,HEIGHT; all where left out. */
  crop?: string;
}

/**
 * A plan with files laid into its result, and cut to a part of it.
 * @param folder where what is laid in is kept.
 * @throws PlanError when a part cannot be read, lies outside of the result, or has another shape than its file.
 */
export async function withParts(plan: Plan, info: StreamInfo, { facts }: Probed, { lay, crop }: Parts, folder: string): Promise<Plan> {
  if (facts.kind !== 'still') throw new PlanError('--lay and --crop are for stills.');
  const { stream, geometry } = layOut(plan, info).output;
  const laid = await Promise.all(
    lay.map(async (given, n) => {
      const at = given.lastIndexOf('@');
      if (at < 1) throw new PlanError(`--lay takes FILE@X,Y,WIDTH,HEIGHT, not "${given}".`);
      const part = partOf(given.slice(at + 1), stream);
      const { picture, width, height } = await layFile({ file: given.slice(0, at), profile: facts.profile, folder });
      if (!fitsPart({ width, height }, part))
        throw new PlanError(`${given.slice(0, at)} has ${width} x ${height} px, which is not the shape of ${part.width} x ${part.height}.`);
      const settings = { ...new InlaySettings(), ...BROUGHT_BACK, picture, ...placeFilling(part, geometry(0)) };
      return { id: `laid-${n + 1}`, treatment: 'inlay', on: true, settings: { ...settings } };
    }),
  );
  const whole = { ...plan, steps: [...plan.steps, ...laid] };
  return crop === undefined ? whole : croppedPlan(whole, outputStream(whole, info), partOf(crop, stream));
}

function partOf(text: string, { width, height }: StreamInfo): Place {
  const [x, y, w, h, ...more] = text.split(',').map(Number);
  const whole = !more.length && [x, y, w, h].every((v) => Number.isInteger(v) && v >= 0);
  if (!whole || w === 0 || h === 0) throw new PlanError(`A part is X,Y,WIDTH,HEIGHT in pixels, not "${text}".`);
  if (x + w > width || y + h > height) throw new PlanError(`The part ${text} leaves the result, which has ${width} x ${height} px.`);
  return { x, y, width: w, height: h };
}
