import { TRANSFERS } from '../picture/light';
import type { Transfer } from '../picture/picture';

/** Light in stops below full light: what films and papers add up in, for each layer of dye takes a share of the light that passes. */

/** Darkest and brightest that are told apart. */
export const DARKEST = -14,
  BRIGHTEST = 4;
/** Steps a stop is divided into on the way back to codes: finer than a code of 16 bits where the eye looks. */
export const FINE = 2048;

export interface StopTables {
  /** 65536 floats: stops of each full-range 16-bit code. */
  ofCode: Float32Array;
  /** Full-range codes, FINE to a stop, from DARKEST to BRIGHTEST. */
  codes: Uint16Array;
}

const known = new Map<Transfer, StopTables>();

export function stopTables(transfer: Transfer): StopTables {
  const there = known.get(transfer);
  if (there) return there;
  const { toLight, fromLight } = TRANSFERS[transfer];
  const tables: StopTables = {
    ofCode: Float32Array.from({ length: 65536 }, (_, code) => Math.max(DARKEST, Math.log2(toLight(code / 65535)))),
    codes: Uint16Array.from({ length: (BRIGHTEST - DARKEST) * FINE + 1 }, (_, i) =>
      i === 0 ? 0 : Math.min(65535, Math.round(65535 * fromLight(Math.min(1, 2 ** (DARKEST + i / FINE))))),
    ),
  };
  known.set(transfer, tables);
  return tables;
}
