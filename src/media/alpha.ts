import { type Picture, toRgb } from '../core';

/** A result over black and over white. */
export interface OverBoth {
  black: Picture;
  white: Picture;
}

/** Red, green, blue and opacity of 16 bits each of a picture that can be seen through. */
export function withOpacity({ black, white }: OverBoth): Uint16Array {
  const [dark, light] = [black, white].map((picture) =>
    picture.info.planes === 1 ? greyRgb(picture) : (toRgb(picture, 16) as Uint16Array),
  );
  const pixels = dark.length / 3;
  const out = new Uint16Array(4 * pixels);
  for (let i = 0; i < pixels; i++) {
    let through = 0;
    for (let c = 0; c < 3; c++) through += light[3 * i + c] - dark[3 * i + c];
    const opacity = Math.min(1, Math.max(0, 1 - through / (3 * 65535)));
    for (let c = 0; c < 3; c++) out[4 * i + c] = opacity > 0 ? Math.min(65535, Math.round(dark[3 * i + c] / opacity)) : 0;
    out[4 * i + 3] = Math.round(65535 * opacity);
  }
  return out;
}

function greyRgb({ planes: [{ data }] }: Picture): Uint16Array {
  const out = new Uint16Array(3 * data.length);
  data.forEach((v, i) => out.fill(v, 3 * i, 3 * i + 3));
  return out;
}
