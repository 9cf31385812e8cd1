/** Colours as CIE 1976 L*a*b* under D65. */
export interface Lab {
  l: number;
  a: number;
  b: number;
}

/** Light 0 to 1 of sRGB's primaries to CIE XYZ (IEC 61966-2-1), and D65's white. */
const TO_XYZ = [
  [0.4124564, 0.3575761, 0.1804375],
  [0.2126729, 0.7151522, 0.072175],
  [0.0193339, 0.119192, 0.9503041],
];
const WHITE = [0.95047, 1, 1.08883];

/** L*a*b* of red, green and blue light, 0 to 1 (CIE 15:2004, 8.2.1). */
export function labOf(red: number, green: number, blue: number): Lab {
  const [x, y, z] = TO_XYZ.map(([r, g, b], i) => {
    const t = (r * red + g * green + b * blue) / WHITE[i];
    return t > (6 / 29) ** 3 ? Math.cbrt(t) : t / (3 * (6 / 29) ** 2) + 4 / 29;
  });
  return { l: 116 * y - 16, a: 500 * (x - y), b: 200 * (y - z) };
}

const radians = (degrees: number): number => (degrees * Math.PI) / 180;
const hue = (a: number, b: number): number => (a === 0 && b === 0 ? 0 : ((Math.atan2(b, a) * 180) / Math.PI + 360) % 360);

/** CIEDE2000 difference of two colours, all weights 1 (Sharma, Wu and Dalal, 2005). */
export function colourDifference(one: Lab, other: Lab): number {
  const mean7 = ((Math.hypot(one.a, one.b) + Math.hypot(other.a, other.b)) / 2) ** 7;
  const g = 0.5 * (1 - Math.sqrt(mean7 / (mean7 + 25 ** 7)));
  const a1 = one.a * (1 + g),
    a2 = other.a * (1 + g);
  const c1 = Math.hypot(a1, one.b),
    c2 = Math.hypot(a2, other.b);
  const h1 = hue(a1, one.b),
    h2 = hue(a2, other.b);
  const apart = c1 * c2 === 0 ? 0 : ((h2 - h1 + 540) % 360) - 180;
  const dl = other.l - one.l,
    dc = c2 - c1,
    dh = 2 * Math.sqrt(c1 * c2) * Math.sin(radians(apart / 2));
  const l = (one.l + other.l) / 2,
    c = (c1 + c2) / 2;
  const sum = h1 + h2;
  const h = c1 * c2 === 0 ? sum : Math.abs(h1 - h2) <= 180 ? sum / 2 : sum < 360 ? (sum + 360) / 2 : (sum - 360) / 2;
  const t =
    1 -
    0.17 * Math.cos(radians(h - 30)) +
    0.24 * Math.cos(radians(2 * h)) +
    0.32 * Math.cos(radians(3 * h + 6)) -
    0.2 * Math.cos(radians(4 * h - 63));
  const c7 = c ** 7;
  const turn = -2 * Math.sqrt(c7 / (c7 + 25 ** 7)) * Math.sin(radians(60 * Math.exp(-(((h - 275) / 25) ** 2))));
  const l50 = (l - 50) ** 2;
  const pl = dl / (1 + (0.015 * l50) / Math.sqrt(20 + l50)),
    pc = dc / (1 + 0.045 * c),
    ph = dh / (1 + 0.015 * c * t);
  return Math.sqrt(pl * pl + pc * pc + ph * ph + turn * pc * ph);
}
