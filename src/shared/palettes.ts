/**
 * Colours that go with a time or a thing, to mark with. Values are approximations on screen in daylight, chosen by eye to the names' descriptions in
 * the works cited; what a thing really had, only a witness, a swatch or a colour picture tells.
 */
export interface Palette {
  id: string;
  name: string;
  /** Where its names and descriptions are from. */
  source: string;
  colours: { name: string; /** Red, green, blue as #rrggbb. */ value: string }[];
}

const palette = (id: string, name: string, source: string, colours: Record<string, string>): Palette => ({
  ...{ id, name, source },
  colours: Object.entries(colours).map(([colour, value]) => ({ name: colour, value })),
});

/** The palette of what is seen out of doors. */
export const OPEN_AIR = 'open-air';

export const PALETTES: readonly Palette[] = [
  palette(
    'skin',
    'Skin, hair, eyes',
    'Skin after Xiao et al., Characterising the variations in ethnic skin colours, 2017; lips and hair by eye',
    {
      'fair skin': '#d9ab94',
      'light skin': '#cfa287',
      'olive skin': '#bd8f6e',
      'brown skin': '#93664a',
      'dark skin': '#5f4234',
      lips: '#b5736c',
      cheek: '#d39a86',
      'fair hair': '#b08d5e',
      'brown hair': '#5e4331',
      'red hair': '#8f4f2c',
      'blue eyes': '#7d93a8',
      'brown eyes': '#5a3d2b',
    },
  ),
  palette(
    OPEN_AIR,
    'Sky, water, leaves, ground',
    'Leaves, ground and snow after Krinov, Spectral Reflectance Properties of Natural Formations, 1947; sky and water by eye',
    {
      'clear sky, high': '#7fa3cc',
      'clear sky, low': '#b3c8da',
      haze: '#c9cfd1',
      'evening sky': '#d9a98a',
      'deep water': '#4f6a78',
      'river water': '#6b7a66',
      'young leaves': '#86984c',
      'summer leaves': '#566b38',
      firs: '#3d4f3a',
      'dry grass': '#b5a46e',
      'autumn leaves': '#a8682f',
      'bare soil': '#7a5f49',
      sand: '#c8b48f',
      snow: '#e6e9ec',
    },
  ),
  palette('plant-dyes', 'Cloth to about 1860: plant and insect dyes', 'Brunello, The Art of Dyeing in the History of Mankind, 1973', {
    madder: '#94402f',
    cochineal: '#8f2a3e',
    indigo: '#2f3f62',
    woad: '#5f7690',
    weld: '#b9a546',
    'weld on woad, green': '#5d7045',
    walnut: '#5d4632',
    logwood: '#35303a',
    'undyed wool': '#cfc2a8',
    'bleached linen': '#e3dccb',
  }),
  palette('coal-tar-dyes', 'Cloth from about 1860: coal-tar dyes', 'Travis, The Rainbow Makers, 1993', {
    mauve: '#7a5a8c',
    magenta: '#a03163',
    alizarin: '#97293a',
    'methylene blue': '#2f6aa0',
    'malachite green': '#2f7a63',
    'aniline black': '#2a2a2c',
    'congo red': '#b23a3a',
    auramine: '#d9bf4a',
  }),
  palette(
    'uniforms',
    'Uniforms and working clothes',
    'Colour Index, Society of Dyers and Colourists, for the dyes (sulphur and vat dyes, indigo); shades by eye',
    {
      khaki: '#8a7a55',
      'olive drab': '#5f5a3c',
      'field grey': '#6c7168',
      'navy serge': '#262f42',
      'air force blue': '#55677c',
      'horizon blue': '#8a9aab',
      denim: '#4c617d',
      'tan leather': '#8d5f38',
      brass: '#b3923f',
    },
  ),
  palette('paints', 'Paint and enamel', 'Gettens and Stout, Painting Materials, 1942', {
    'white lead': '#e6e2d6',
    'red lead': '#c2512e',
    vermilion: '#bb3a2c',
    'iron oxide red': '#8a4131',
    'yellow ochre': '#b98d47',
    'chrome yellow': '#d8ab33',
    'chrome green': '#3f6446',
    'Prussian blue': '#27425f',
    ultramarine: '#34489a',
    'bone black': '#2b2826',
    'cream enamel': '#e2d6b4',
    'stove green enamel': '#47614f',
  }),
  palette('house-and-land', 'House and land', 'By eye from daylight photographs', {
    'red brick': '#96604a',
    'yellow brick': '#b89c6c',
    slate: '#5f666f',
    'tiled roof': '#9a5f45',
    limestone: '#c2b697',
    'oak, oiled': '#8a6440',
    'weathered wood': '#8b8377',
    grass: '#6f8048',
    leaves: '#54693c',
    soil: '#6d5441',
    sand: '#c4ab81',
    'clear sky': '#8fb0d3',
    'sky at the horizon': '#b9cad8',
    sea: '#5f7f8f',
  }),
];
