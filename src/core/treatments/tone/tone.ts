import { curvePoints } from '../../../shared/settings';
import { withCoarserChroma, withFinerChroma } from '../../picture/chroma';
import { cutPicture, growRegion, newPlane, type StreamInfo, wholeRegion } from '../../picture/picture';
import { layersThrough } from '../../tone/points';
import { isNothing, type Layer, type Look } from '../../tone/look';
import { toned, tonedBorder } from '../../tone/toned';
import type { Fading } from '../../condition/fading';
import { withinBounds } from '../setting';
import { finerDepth, NO_NEEDS, type Treatment } from '../treatment';
import { ToneSettings } from './settings';

/** Pixels round a part for its chroma. */
const BORDER = 4;
/** How red, green and blue share a change from cold to warm. */
const WARMTH = [0.5, 0, -0.5];

/** What the settings do to a picture. */
export function lookOf(s: ToneSettings, { colour }: Pick<StreamInfo, 'colour'>): Look {
  const left = [s.cyan, s.magenta, s.yellow],
    base = [s.red, s.green, s.blue];
  const plain = left.map((percent, c): Layer => ({ left: percent / 100, base: base[c], shift: 0, bend: 0 })) as Look['layers'];
  const layers = layersThrough(plain, s, colour.transfer);
  return {
    layers: layers.map((layer, c) => ({ ...layer, shift: layer.shift + s.light + WARMTH[c] * s.warmer })) as Look['layers'],
    uneven: { across: s.across, down: s.down, corners: s.corners },
    ...{ darks: s.darks, lights: s.lights, large: s.large / 100, small: s.small / 100 },
    ...{ strength: s.strength / 100, pale: s.pale / 100, curve: curvePoints(s.curve) },
  };
}

export const tone: Treatment<ToneSettings> = {
  id: 'tone',
  version: 1,
  name: 'Tone',
  answers: 'fading, casts, exposure',
  settings: ToneSettings,
  inPlace: true,
  suits: ({ fieldOrder }) => fieldOrder === 'progressive',
  output: (input) => ({ ...input, depth: finerDepth(input) }),
  needs: (settings, input) => ({ ...NO_NEEDS, border: tonedBorder(lookOf(settings, input), input) + BORDER, grid: 2 }),
  propose: ({ measurements: { fading, monochrome, scan } }) => {
    if (fading) return { on: !monochrome && isFaded(fading), settings: settingsOf(fading, monochrome) };
    return scan === 'still' ? { on: false, settings: {} } : undefined;
  },
  coarse: (settings) => settings,
  lifts: (settings, input) => darkSlope(lookOf(settings, input), input),
  summary: (s) => summaryOf(s),
  apply([source], settings, { input, output, region }) {
    const look = lookOf(settings, input);
    if (isNothing(look)) return { ...cutPicture(source, region), info: output };
    const { chromaShiftX, chromaShiftY } = input;
    // Chroma samples lie between pixels: one more of them on each side.
    const wanted = growRegion(region, chromaShiftX || chromaShiftY ? 2 : 0, 2, input);
    const made = toned(withFinerChroma(source, 0, 0), wanted, look);
    return { ...cutPicture(withCoarserChroma(made, chromaShiftX, chromaShiftY), region), info: output };
  },
};

/** Codes of 65535 that stand for the dark parts, and how far apart they are. */
const DARK = 40 * 257,
  APART = 4 * 257;
const PATCH = 16;

/** How much further apart dark codes are in another look. */
function darkSlope(look: Look, input: StreamInfo): number {
  if (isNothing(look)) return 1;
  const info: StreamInfo = { ...input, width: PATCH, height: PATCH, planes: 1, chromaShiftX: 0, chromaShiftY: 0 };
  const even = { ...look, uneven: { across: 0, down: 0, corners: 0 } };
  const [darker, lighter] = [DARK - APART / 2, DARK + APART / 2].map((level) => {
    const flat = { info, region: wholeRegion(info), planes: [newPlane(PATCH, PATCH, level)] };
    return toned(flat, flat.region, even).planes[0].data[(PATCH * PATCH) / 2];
  });
  return (lighter - darker) / APART;
}

/** Stops by which the colours of white paper must differ to be taken for yellowed unasked, and the density that one of the dyes must have lost beside it. */
const YELLOWED = 0.3,
  LOST = 0.22;

/** Whether a print has faded for sure: its paper is white no longer, and dyes are weaker. Cream paper alone may have been cream. */
const isFaded = ({ left, base }: Fading): boolean => Math.max(...base) - Math.min(...base) > YELLOWED && Math.min(...left) < 1 - LOST;

/** Settings that give back what has faded; a monochrome print keeps its tone. */
function settingsOf({ left, base, uneven }: Fading, monochrome: boolean): Partial<ToneSettings> {
  const mean = (of: number[]): number[] => of.map(() => (of[0] + of[1] + of[2]) / 3);
  const [cyan, magenta, yellow] = (monochrome ? mean(left) : left).map((share) => Math.round(100 * share)),
    [red, green, blue] = (monochrome ? mean(base) : base).map((stops) => Math.round(stops * 50) / 50);
  const [across, down, corners] = [uneven.across, uneven.down, uneven.corners].map((stops) => Math.round(stops * 20) / 20);
  return withinBounds(ToneSettings, { cyan, magenta, yellow, red, green, blue, across, down, corners });
}

/** What of the settings says most. */
function summaryOf(s: ToneSettings): string {
  const plain = new ToneSettings();
  const said = [
    s.white || s.grey || s.black ? `${[s.white && 'white', s.grey && 'grey', s.black && 'black'].filter(Boolean).join(', ')} said` : '',
    s.cyan !== 100 || s.magenta !== 100 || s.yellow !== 100 ? `dyes ${s.cyan}, ${s.magenta}, ${s.yellow} %` : '',
    s.light !== 0 ? `${s.light > 0 ? '+' : ''}${s.light} st` : '',
    s.curve ? 'curve' : '',
  ].filter(Boolean);
  const changed = (Object.keys(plain) as (keyof ToneSettings)[]).filter((key) => s[key] !== plain[key]).length;
  if (said.length > 0) return said.join('; ');
  return changed === 0 ? 'nothing changed yet' : `${changed} ${changed === 1 ? 'setting' : 'settings'} changed`;
}
