import { colourParts } from '../../shared/settings';
import type { Transfer } from '../picture/picture';
import { BLACK_STOPS, layerStops, WHITE_STOPS, type Layer, type Look } from './look';
import { stopTables } from './stops';

/** What is left of a dye at least and at most: less could not be told from noise. */
const LEFT = { least: 0.15, most: 1.6 };
/** The bend at most, in stops. */
const MOST_BEND = 2;

/** Colours that were said to be black, grey or white, as settings hold them; empty where none was. */
export interface SaidPoints {
  black: string;
  grey: string;
  white: string;
}

/** Stops of a picked colour, red, green and blue. */
export function stopsOf(colour: string, transfer: Transfer): number[] {
  const { ofCode } = stopTables(transfer);
  return colourParts(colour).map((code) => ofCode[code]);
}

/**
 * Layers that bring picked places to where they are said to lie: white and black fix the line of each colour, grey its bend, or its shift where
 * neither of them is there.
 */
export function layersThrough(layers: Look['layers'], { black, grey, white }: SaidPoints, transfer: Transfer): Look['layers'] {
  let made = layers.map((layer) => ({ ...layer }));
  if (white) {
    const read = stopsOf(white, transfer);
    made = made.map((layer, c) => ({ ...layer, base: WHITE_STOPS * layer.left - read[c] }));
  }
  if (black) {
    const dark = stopsOf(black, transfer);
    made = made.map((layer, c) => {
      const light = white ? stopsOf(white, transfer)[c] : WHITE_STOPS * layer.left - layer.base;
      const left = Math.min(LEFT.most, Math.max(LEFT.least, (dark[c] - light) / (BLACK_STOPS - WHITE_STOPS)));
      return { ...layer, left, base: WHITE_STOPS * left - light };
    });
  }
  if (grey) {
    const read = stopsOf(grey, transfer);
    const now = made.map((layer, c) => layerStops(layer, read[c]));
    const middle = (now[0] + now[1] + now[2]) / 3;
    made = made.map((layer, c) => {
      const off = middle - now[c];
      if (!white && !black) return { ...layer, shift: layer.shift + off };
      const way = Math.min(0.95, Math.max(0.05, (now[c] - layer.shift - WHITE_STOPS) / (BLACK_STOPS - WHITE_STOPS)));
      return { ...layer, bend: Math.min(MOST_BEND, Math.max(-MOST_BEND, off / (4 * way * (1 - way)))) };
    });
  }
  return made as [Layer, Layer, Layer];
}
