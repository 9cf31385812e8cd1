import { lumaLimits, type SampleRange, type Transfer } from './picture';

/** Light 0 to 1 of a code value 0 to 1 under each transfer, and the code value of a light. */
export const TRANSFERS: Record<Transfer, { toLight: (v: number) => number; fromLight: (l: number) => number }> = {
  /** IEC 61966-2-1. */
  srgb: {
    toLight: (v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4),
    fromLight: (l) => (l <= 0.0031308 ? 12.92 * l : 1.055 * l ** (1 / 2.4) - 0.055),
  },
  /** The camera curve of Recommendations ITU-R BT.601, BT.709 and BT.2020. */
  video: {
    toLight: (v) => (v < 0.081242858 ? v / 4.5 : ((v + 0.099296826) / 1.099296826) ** (1 / 0.45)),
    fromLight: (l) => (l < 0.018053968 ? 4.5 * l : 1.099296826 * l ** 0.45 - 0.099296826),
  },
};

/** Entries of the way back; it is indexed by the root of the light, which spends them where the eye looks. */
export const ENTRIES = 65536;

export interface LightTables {
  /** 65536 floats: light of each 16-bit code, 0 to 1 over the room the codes leave, black and white inside it. */
  toLight: Float32Array;
  /** 16-bit codes over the root of that light. */
  fromLight: Uint16Array;
}

const cache = new Map<string, LightTables>();

/**
 * Tables between luma codes and light. Codes beyond black and white are kept: the curve is continued in a straight line
 * below black and by its own formula above white.
 */
export function lightTables(range: SampleRange, transfer: Transfer): LightTables {
  const key = `${range}/${transfer}`;
  const known = cache.get(key);
  if (known) return known;
  const { black, white } = lumaLimits(range);
  const { toLight, fromLight } = TRANSFERS[transfer];
  const low = toLinear((0 - black) / (white - black));
  const high = toLinear((65535 - black) / (white - black));
  function toLinear(v: number): number {
    return v < 0 ? v * (toLight(0.01) / 0.01) : toLight(v);
  }
  const tables: LightTables = { toLight: new Float32Array(65536), fromLight: new Uint16Array(ENTRIES) };
  for (let code = 0; code < 65536; code++) tables.toLight[code] = (toLinear((code - black) / (white - black)) - low) / (high - low);
  const darkSlope = toLight(0.01) / 0.01;
  for (let i = 0; i < ENTRIES; i++) {
    const light = (i / (ENTRIES - 1)) ** 2 * (high - low) + low;
    const v = light < 0 ? light / darkSlope : fromLight(light);
    tables.fromLight[i] = Math.min(65535, Math.max(0, Math.round(v * (white - black) + black)));
  }
  cache.set(key, tables);
  return tables;
}

/** Tables that leave codes as they are, for planes that are no light (chroma). */
export function plainTables(): LightTables {
  const known = cache.get('plain');
  if (known) return known;
  const tables: LightTables = {
    toLight: Float32Array.from({ length: 65536 }, (_, i) => i / 65535),
    fromLight: Uint16Array.from({ length: ENTRIES }, (_, i) => Math.round((i / (ENTRIES - 1)) ** 2 * 65535)),
  };
  cache.set('plain', tables);
  return tables;
}
