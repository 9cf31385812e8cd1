import type { StillSpace } from '../../shared/jobs';
import type { MediaFacts } from '../facts';
import { convertRgb } from './convert';
import { readProfile, type RgbSpace } from './profile';
import { profileOf, rgbSpace } from './spaces';

/** Space the samples of a source are worked on in. */
export function spaceOf({ profile }: Pick<MediaFacts, 'profile'>): RgbSpace {
  return (profile && readProfile(Buffer.from(profile.icc, 'base64'))) ?? rgbSpace('srgb');
}

/** A screen's pixels, four bytes each, brought from a source's space to sRGB, in place. */
export function forSrgbScreen(pixels: Uint8Array, facts: Pick<MediaFacts, 'profile'>): void {
  if (facts.profile) convertRgb(pixels, 4, spaceOf(facts), rgbSpace('srgb'));
}

/** How samples of a source's space become those of a file, and the profile it is tagged with. */
export function towards(facts: Pick<MediaFacts, 'profile'>, to: StillSpace): { convert?: { from: RgbSpace; to: RgbSpace }; icc: Buffer } {
  if (to === 'source') return { icc: facts.profile ? Buffer.from(facts.profile.icc, 'base64') : profileOf('srgb') };
  if (to === 'srgb' && !facts.profile) return { icc: profileOf('srgb') };
  return { convert: { from: spaceOf(facts), to: rgbSpace(to) }, icc: profileOf(to) };
}

/** Interleaved samples of one source's colours brought to those of another, in place. */
export function convertBetween(samples: Uint16Array, from: Pick<MediaFacts, 'profile'>, to: Pick<MediaFacts, 'profile'>): void {
  if (from.profile?.icc !== to.profile?.icc) convertRgb(samples, 3, spaceOf(from), spaceOf(to));
}
