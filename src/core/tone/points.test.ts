import { describe, expect, it } from 'vitest';
import { TRANSFERS } from '../picture/light';
import { colourOf } from '../../shared/settings';
import { BLACK_STOPS, layerStops, PLAIN_LAYER, WHITE_STOPS, type Look } from './look';
import { positiveLayers } from './negative';
import { layersThrough, stopsOf } from './points';

const LAYERS: Look['layers'] = [PLAIN_LAYER, PLAIN_LAYER, PLAIN_LAYER];
const NONE = { black: '', grey: '', white: '' };
const code = (...stops: number[]): string => colourOf(stops.map((s) => 65535 * TRANSFERS.srgb.fromLight(2 ** s)));
const through = (layers: Look['layers'], colour: string): number[] => stopsOf(colour, 'srgb').map((s, c) => layerStops(layers[c], s));

describe('picked places', () => {
  const white = code(-0.3, -0.5, -1.1),
    black = code(-4.2, -3.4, -4.9),
    grey = code(-2, -2.3, -2.9);

  it('come to lie at white and black, without colour', () => {
    const layers = layersThrough(LAYERS, { ...NONE, white, black }, 'srgb');
    through(layers, white).forEach((s) => expect(s).toBeCloseTo(WHITE_STOPS, 2));
    through(layers, black).forEach((s) => expect(s).toBeCloseTo(BLACK_STOPS, 2));
  });

  it('a grey loses its colour, and white and black keep their places', () => {
    for (const said of [
      { ...NONE, grey },
      { white, black, grey },
    ]) {
      const layers = layersThrough(LAYERS, said, 'srgb');
      const [r, g, b] = through(layers, grey);
      expect(r).toBeCloseTo(g, 1);
      expect(b).toBeCloseTo(g, 1);
      if (said.white) through(layers, white).forEach((s) => expect(s).toBeCloseTo(WHITE_STOPS, 2));
    }
  });

  it('change nothing where none is picked', () => {
    expect(layersThrough(LAYERS, NONE, 'srgb')).toEqual(LAYERS);
  });
});

describe('a negative', () => {
  it('is turned with the orange of its film taken off', () => {
    const gammas = [0.55, 0.6, 0.66],
      film = [-0.3, -1, -1.5];
    // A scene from white to ten stops below it, a grey half-way.
    const negative = (stops: number): string => code(...film.map((clear, c) => clear - gammas[c] * (stops + 10)));
    const layers = positiveLayers({ clear: negative(-10), dense: negative(0) }, 1, 'srgb');
    const [lightest, grey, dark] = [0, -2.5, -5].map((s) => through(layers, negative(s)));
    lightest.forEach((s) => expect(s).toBeCloseTo(WHITE_STOPS, 1));
    for (const [r, g, b] of [grey, dark]) {
      expect(Math.abs(r - g)).toBeLessThan(0.05);
      expect(Math.abs(b - g)).toBeLessThan(0.05);
    }
    expect(grey[1]).toBeCloseTo(WHITE_STOPS - 2.5, 0);
  });
});
