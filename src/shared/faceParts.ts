import type { MarkPoint } from './marks';

/** Parts of a face, and the sky, that are tinted in two steps: which part, and which colour. */
export type FacePart = 'skin' | 'cheeks' | 'lips' | 'eyes' | 'hair';

/** A path that marks some of a part, in pixels of the source. */
export interface PartPath {
  points: MarkPoint[];
  /** Diameter in pixels. */
  size: number;
}

export interface PartWords {
  part: FacePart;
  /** Whether its colour spreads from its marks along the picture's edges, or stays where they are. */
  spreads: boolean;
  /** In the choice, and of its marks. */
  name: string;
  /** Natural colours of little saturation, by name. */
  colours: Record<string, string>;
}

/** Values by eye, as in the palettes. */
export const FACE_PARTS: readonly PartWords[] = [
  {
    part: 'skin',
    name: 'skin',
    spreads: true,
    colours: { fair: '#d9ab94', light: '#cfa287', olive: '#bd8f6e', brown: '#93664a', dark: '#5f4234' },
  },
  {
    part: 'cheeks',
    name: 'cheeks',
    spreads: false,
    colours: { pale: '#d7a796', fresh: '#d39a86', rosy: '#cf8d7d', 'on brown skin': '#a06a52' },
  },
  {
    part: 'lips',
    name: 'lips',
    spreads: false,
    colours: { pale: '#c08a80', natural: '#b5736c', full: '#a95f5c', 'painted red': '#9e3f43', dark: '#7d4a44' },
  },
  {
    part: 'eyes',
    name: 'eyes',
    spreads: false,
    colours: { blue: '#7d93a8', grey: '#848b90', green: '#7b8a6c', hazel: '#7a6440', brown: '#5a3d2b', dark: '#35251d' },
  },
  {
    part: 'hair',
    name: 'hair',
    spreads: true,
    colours: { white: '#c9c6c0', grey: '#8b8986', fair: '#b08d5e', red: '#8f4f2c', brown: '#5e4331', black: '#2b2623' },
  },
];
