import { background } from './background/background';
import { compression } from './compression/compression';
import { colourise } from './colourise/colourise';
import { crop } from './crop/crop';
import { deinterlace } from './deinterlace/deinterlace';
import { dirt } from './dirt/dirt';
import { faces } from './faces/faces';
import { fit } from './fit/fit';
import { focus } from './focus/focus';
import { grain } from './grain/grain';
import { halos } from './halos/halos';
import { halftone } from './halftone/halftone';
import { heal } from './heal/heal';
import { inlay } from './inlay/inlay';
import { lens } from './lens/lens';
import { negative } from './negative/negative';
import { redact } from './redact/redact';
import { regrain } from './regrain/regrain';
import { perspective } from './perspective/perspective';
import { silvering } from './silvering/silvering';
import { stairsteps } from './stairsteps/stairsteps';
import type { Treatment } from './treatment';
import { tone } from './tone/tone';
import { toning } from './toning/toning';
import { torn } from './torn/torn';
import { turn } from './turn/turn';
import { trim } from './trim/trim';
import { upscale } from './upscale/upscale';

/** Every treatment, in the order they naturally follow one another. */
export const TREATMENTS = [
  trim,
  torn,
  lens,
  turn,
  perspective,
  crop,
  negative,
  deinterlace,
  silvering,
  dirt,
  heal,
  halftone,
  compression,
  grain,
  halos,
  focus,
  stairsteps,
  tone,
  colourise,
  toning,
  background,
  redact,
  upscale,
  faces,
  inlay,
  regrain,
  fit,
] as unknown as readonly Treatment[];

export function treatment(id: string): Treatment | undefined {
  return TREATMENTS.find((t) => t.id === id);
}
