import { codes, fromRgbMatrix } from '../picture/matrix';
import { NEUTRAL_CHROMA, type Picture, planeRegion } from '../picture/picture';

/**
 * Tones that silver prints were given in a bath, and the blue of iron prints: the colour of the image by its lightness. Paper stays white. The colours were chosen by eye to what
 * each metal is described to give: silver sulphide a warm brown, selenium a cool violet brown in the shadows first, gold a blue black, iron blue cyan.
 */
export type Toning = 'sepia' | 'selenium' | 'gold' | 'cyanotype';

interface Metal {
  label: string;
  /** Red, green and blue of its middle tone, 0 to 255, whose lightness does not matter. */
  colour: readonly [number, number, number];
  /** Power of darkness by which the colour grows: less than 1 reaches far into the lights, more keeps to the shadows. */
  reach: number;
}

export const TONINGS: Record<Toning, Metal> = {
  sepia: { label: 'sepia', colour: [142, 104, 70], reach: 0.6 },
  selenium: { label: 'selenium', colour: [118, 102, 108], reach: 1.6 },
  gold: { label: 'gold', colour: [96, 106, 124], reach: 0.8 },
  cyanotype: { label: 'iron blue', colour: [38, 92, 150], reach: 0.5 },
};

/** A picture in the tone of a metal, or in none, its luma as it is. @param strength how far its own colours give way, 0 to 1. */
export function toneLaid(picture: Picture, toning: Toning | undefined, strength: number): Picture {
  const { info, region, planes } = picture;
  const [light] = planes;
  const { black, luma: span, chroma } = codes(info.colour.range);
  const rows = fromRgbMatrix(info.colour.matrix);
  const across = 1 << info.chromaShiftX,
    down = 1 << info.chromaShiftY;
  const metal = toning && TONINGS[toning];
  const made = [1, 2].map((index) => {
    const middle = metal ? rows[index].reduce((sum, weight, c) => sum + (weight * metal.colour[c]) / 255, 0) : 0;
    // By lightness: full in the middle tones, none in white, and none in black, which is no colour.
    const tone = Float32Array.from({ length: 256 }, (_, code) => {
      const t = code / 255;
      return metal ? NEUTRAL_CHROMA + chroma * middle * Math.min(1, 2.2 * t) * (1 - t) ** metal.reach * 2 ** metal.reach : NEUTRAL_CHROMA;
    });
    const { width } = planeRegion(info, index, region);
    const { data } = planes[index];
    return {
      ...planes[index],
      data: data.map((v, i) => {
        const x = Math.min(light.width - 1, (i % width) * across),
          y = Math.min(light.height - 1, Math.floor(i / width) * down);
        const code = Math.round((255 * (light.data[y * light.width + x] - black)) / span);
        return Math.round(v + strength * (tone[Math.min(255, Math.max(0, code))] - v));
      }),
    };
  });
  return { info, region, planes: [light, ...made] };
}
