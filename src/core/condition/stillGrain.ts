import type { PlaneReading } from '../networks/condition';
import type { Plane } from '../picture/picture';
import { alone, atLeast, BELOW, CONFIRMED, confidenceOf, octaves, type GrainDamage } from './doubt';
import { evennessOf, measureGrain } from './grain';
import { LIKELY, SURE } from './report';
import { measureWhiteNoise } from './whiteNoise';

/** How many of a reading's doubts off grain may be that is even all over. */
const REACH = 2;
/** Noise of single pixels, in codes of 255, that the plainest parts of a clean picture may be mistaken for, gravel and moss among them. */
const TEXTURED = 10;
/** Share of the noise's deviation that plain parts show: those happen to have less of it. */
const SHOWN = 0.92;
/** Octaves within which such noise and a reading say the same. */
const SAME = 0.35;
/** Radius, in pixels, below which the network takes grain for such noise. */
const FINE = 0.2;
/** How much of it makes a reading sure that is at most so doubtful. */
const CONFIRMING = [
  { from: 3, doubt: 0.5 },
  { from: 6, doubt: 0.75 },
];
/** Doubt of a reading in a picture that is the same all over, and up to how much grain such pictures are drawn with. */
const UNIFORM = 0.5,
  ASPHALT = 6;
/** Doubt of noise that is more than any texture's. */
const CLEAREST = 0.12;

/**
 * A still's reading, with the statistics of its plain parts where the network is unsure: grain of some size, which it cannot tell from
 * texture part by part, is told by being the same all over.
 */
export function withStatistics(reading: PlaneReading, plane: Plane): GrainDamage {
  const { grain, size: radius } = reading;
  const evenness = evennessOf(plane);
  const confidence = confidenceOf(grain.doubt);
  if (confidence >= LIKELY) {
    // Asphalt is all grain, to the network too.
    const texture = confidence < SURE && evenness === 'same all over' && grain.value < ASPHALT;
    return alone(texture ? { grain: { ...grain, doubt: Math.max(grain.doubt, UNIFORM) }, size: radius } : reading);
  }
  if (evenness === 'grain') {
    const { sigma, size } = measureGrain(plane, false);
    const apart = octaves(sigma) - octaves(grain.value);
    if (apart <= REACH * grain.doubt) return alone({ grain: { value: sigma, doubt: CONFIRMED }, size });
  }
  return withWhiteNoise(reading, measureWhiteNoise(plane) ?? 0);
}

/**
 * A reading that is unsure, with the noise of single pixels that the picture's plainest parts show: sure where both say the same and it
 * is not little, and where it is more than any texture's.
 * @param shown deviation in codes of 255.
 */
export function withWhiteNoise(own: Pick<PlaneReading, 'grain' | 'size'>, shown: number): GrainDamage {
  const value = shown / SHOWN;
  const apart = octaves(value) - octaves(own.grain.value);
  const least = Math.sqrt(Math.max(0, shown ** 2 - TEXTURED ** 2));
  const doubt = Math.max(CLEAREST, octaves(shown) - octaves(least));
  if (least > 0 && doubt < own.grain.doubt && (apart > -SAME || own.size < FINE)) return alone({ grain: { value, doubt }, size: 0 });
  if (apart < -SAME || apart > Math.max(SAME, own.grain.doubt)) return alone(own);
  if (apart <= SAME && CONFIRMING.some((c) => shown >= c.from && own.grain.doubt <= c.doubt))
    return alone({ grain: { value, doubt: CONFIRMED }, size: 0 });
  return { ...alone(own), least: atLeast(own.grain, BELOW.confirmed) };
}
