import { readTemplate, type PlanTemplate, type TemplateStep } from './template';

/** A step that is on or off as measured, with some settings fixed. */
const step = (treatment: string, settings: Record<string, unknown> = {}, on: TemplateStep['on'] = 'measured'): TemplateStep => ({
  treatment,
  on,
  settings,
});

const template = (name: string, about: string, ...steps: TemplateStep[]): PlanTemplate =>
  readTemplate({ format: 'wairetic-template', version: 1, name, about, steps });

/** Off, but at hand. */
const trim = step('trim', {}, false);
const BEST = { quality: 'best' };

/** The templates that come with the program, by the kind of source. */
export const SHIPPED_TEMPLATES: PlanTemplate[] = [
  template(
    'Camcorder tape',
    'Home recordings on tape: full motion, strong cleaning of the colour noise, a little grain left so that skin stays alive.',
    trim,
    step('crop'),
    step('deinterlace', { ...BEST, rate: 'double' }),
    step('compression', BEST),
    step('grain', { ...BEST, keep: 15, neighbours: 2 }),
    step('upscale', { ...BEST, target: '1080p', content: 'live' }, true),
    step('regrain', { amount: 0.8 }, false),
  ),
  template(
    'Broadcast recording',
    'Recordings off the air: cleaner than a camcorder, often with an edge enhancer; light cleaning, full motion.',
    trim,
    step('crop'),
    step('deinterlace', { ...BEST, rate: 'double' }),
    step('compression', BEST),
    step('grain', { ...BEST, keep: 10 }),
    step('upscale', { ...BEST, target: '1080p', content: 'live' }, true),
  ),
  template(
    'DVD of live action',
    'Discs of filmed or taped programmes: blocks first, then grain, then high definition.',
    trim,
    step('crop'),
    step('deinterlace', { ...BEST, rate: 'double' }),
    step('compression', BEST),
    step('grain', { ...BEST, keep: 10 }),
    step('focus', BEST, false),
    step('upscale', { ...BEST, target: '1080p', content: 'live' }, true),
  ),
  template(
    'DVD of drawn animation',
    'Drawn films on disc: outlines kept hard, blocks and the shimmer round lines taken off, no grain put back.',
    trim,
    step('crop'),
    step('deinterlace', { ...BEST, rate: 'single' }),
    step('compression', { ...BEST, keep: 0 }),
    step('grain', { ...BEST, keep: 0 }),
    step('upscale', { ...BEST, target: '1080p', content: 'drawn' }, true),
  ),
  template(
    '8 mm film transfer',
    'Small film, scanned: half of the grain is the picture, so half of it stays; sharpness is not forced.',
    trim,
    step('crop'),
    step('deinterlace', { ...BEST, rate: 'single' }),
    step('grain', { ...BEST, keep: 40, neighbours: 2 }),
    step('focus', { quality: 'fast', strength: 50 }, false),
    step('upscale', { quality: 'fast', target: '1080p' }, true),
    step('regrain', { chroma: 0 }, false),
  ),
  template(
    '16 mm film transfer',
    'Larger film, often through a telecine: less grain than 8 mm and more to find beneath it.',
    trim,
    step('crop'),
    step('deinterlace', { ...BEST, rate: 'single' }),
    step('compression', BEST),
    step('grain', { ...BEST, keep: 30, neighbours: 2 }),
    step('upscale', { ...BEST, target: '1080p', content: 'live' }, true),
    step('regrain', { chroma: 0 }, false),
  ),
  template(
    'Small-format web clip',
    'Clips of a few hundred lines, coded very coarsely: cleaned well, enlarged moderately; more would be invention.',
    trim,
    step('compression', { ...BEST, keep: 0 }, true),
    step('grain', { ...BEST, keep: 0 }),
    step('upscale', { ...BEST, target: 'factor', factor: 2, content: 'live' }, true),
  ),
  template(
    'Faded colour print',
    'Colour prints: grain and paper texture lightly cleaned, enlarged for a new print.',
    step('crop'),
    step('compression', BEST),
    step('grain', { ...BEST, keep: 30 }),
    step('upscale', { ...BEST, target: 'factor', factor: 2, content: 'print' }, true),
  ),
  template(
    'Monochrome print',
    'Black and white or toned prints: grain kept in good part, softness of the lens eased.',
    step('crop'),
    step('compression', BEST),
    step('grain', { ...BEST, keep: 35 }),
    step('focus', { ...BEST, strength: 60 }, false),
    step('upscale', { ...BEST, target: 'factor', factor: 2, content: 'print' }, true),
  ),
  template(
    'Slide',
    'Transparencies in their mount: the mount taken off, fine grain cleaned, no sharpening.',
    step('crop'),
    step('compression', BEST),
    step('grain', { ...BEST, keep: 25 }),
    step('upscale', { ...BEST, target: 'factor', factor: 2, content: 'live' }, true),
  ),
  template(
    'Halftone clipping',
    'Printed pictures and text: the screen of dots is taken for coarse grain, letters stay.',
    step('crop'),
    step('grain', { ...BEST, keep: 10 }, true),
    step('focus', BEST, false),
    step('upscale', { ...BEST, target: 'factor', factor: 2, content: 'print' }, true),
  ),
  template(
    'Group portrait',
    'Many small faces: careful cleaning, then as large as the source supports, so that each face can be looked at.',
    step('crop'),
    step('compression', BEST),
    step('grain', { ...BEST, keep: 25 }),
    step('upscale', { ...BEST, target: 'factor', factor: 4, content: 'live' }, true),
  ),
];
