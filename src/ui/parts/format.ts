import type { StreamInfo } from '../../core';
import type { Rational } from '../../shared/maps/rational';

/** 4.2 MiB */
export function bytes(n: number): string {
  const units = ['B', 'KiB', 'MiB', 'GiB', 'TiB'];
  let i = 0;
  while (n >= 1024 && i < units.length - 1) {
    n /= 1024;
    i++;
  }
  return `${i === 0 ? n : n.toFixed(1)} ${units[i]}`;
}

/** 29.97, from 30000/1001 */
export function rate(r: Rational): string {
  const v = r.num / r.den;
  return Number.isInteger(v) ? String(v) : v.toFixed(2);
}

const moments = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** 26 Nov, 02:15, from ISO 8601. */
export const moment = (iso: string): string => moments.format(new Date(iso));

/** 3 min 20 s */
export function secondsText(seconds: number): string {
  if (seconds >= 60) return `${(seconds / 60).toFixed(1)} min`;
  return `${seconds >= 9.95 ? seconds.toFixed(0) : seconds >= 0.995 ? seconds.toFixed(1) : seconds >= 0.0095 ? seconds.toFixed(2) : seconds.toFixed(3)} s`;
}

/** 9.5 s, 14 min 05 s, 2 h 03 min: rounded first, so that no minute has sixty seconds. */
export function duration(seconds: number): string {
  if (seconds < 9.95) return `${seconds.toFixed(1)} s`;
  const whole = Math.round(seconds);
  if (whole < 60) return `${whole} s`;
  const m = Math.floor(whole / 60);
  return m < 60 ? `${m} min ${String(whole % 60).padStart(2, '0')} s` : `${Math.floor(m / 60)} h ${String(m % 60).padStart(2, '0')} min`;
}

const two = (n: number): string => String(n).padStart(2, '0');

/**
 * Timecode of a frame (SMPTE ST 12-1): HH:MM:SS:FF, with dropped numbers, written with a semicolon, at 29.97 and 59.94.
 */
export function timecode(frame: number, r: Rational): string {
  if (r.num === 0) return '';
  const nominal = Math.round(r.num / r.den);
  const drop = r.den === 1001 && nominal % 30 === 0;
  let n = frame;
  if (drop) {
    const dropped = nominal / 15;
    const tenMinutes = nominal * 600 - dropped * 9,
      minute = nominal * 60 - dropped;
    const tens = Math.floor(n / tenMinutes),
      rest = n % tenMinutes;
    n += dropped * 9 * tens + (rest > nominal * 60 - 1 ? dropped * Math.floor((rest - dropped) / minute) : 0);
  }
  const seconds = Math.floor(n / nominal);
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}${drop ? ';' : ':'}${two(n % nominal)}`;
}

/** 1440 × 1080, 59.94p */
export function streamText(info: StreamInfo): string {
  const moving = info.frames > 1 ? `, ${rate(info.rate)}${info.fieldOrder === 'progressive' ? 'p' : 'i'}` : '';
  return `${info.width} × ${info.height}${moving}`;
}

/** 4:3 */
export function shapeText(info: StreamInfo): string {
  const w = info.width * info.pixelAspect.num,
    h = info.height * info.pixelAspect.den;
  const known: [number, number][] = [
    [4, 3],
    [16, 9],
    [3, 2],
    [1, 1],
    [5, 4],
    [3, 4],
    [2, 3],
    [9, 16],
  ];
  const near = known.find(([a, b]) => Math.abs(w / h / (a / b) - 1) < 0.012);
  return near ? `${near[0]}:${near[1]}` : `${(w / h).toFixed(2)}:1`;
}

/** The year of a picture, to stand beside its name: nothing where it is not known, or the name holds it. */
export const yearBeside = (name: string, year: number | undefined): string =>
  year === undefined || name.includes(String(year)) ? '' : String(year);
