import { curveThrough, type CurvePoint } from '../../shared/curve';

/** A curve as 65536 codes. */
export function curveTable(points: readonly CurvePoint[]): Uint16Array {
  const table = new Uint16Array(65536);
  const at = curveThrough(points);
  for (let i = 0; i < table.length; i++) table[i] = Math.min(65535, Math.max(0, Math.round(65535 * at(i / 65535))));
  return table;
}
