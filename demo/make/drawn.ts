import sharp from 'sharp';
import { encodeFrames, interlacedMpeg2 } from './encode';
import type { Raster } from './raster';
import { Truth } from './truth';

/** Drawings a second: each is shown for two of film's frames. */
const RATE = 12,
  SECONDS = 6;

const INK = 'stroke="#1a1512" stroke-linejoin="round" stroke-linecap="round"';

/** A gull of two arcs, its wings at an angle. */
function gull(x: number, y: number, size: number, beat: number): string {
  const lift = size * 0.5 * Math.sin(beat);
  return `<path d="M${x - size},${y - lift} Q${x - size / 2},${y - lift - size * 0.45} ${x},${y} Q${x + size / 2},${y - lift - size * 0.45} ${x + size},${y - lift}" fill="none" ${INK} stroke-width="2.6"/>`;
}

/** Rows of waves that move against each other. */
function waves(t: number): string {
  return [0, 1, 2, 3]
    .map((row) => {
      const y = 318 + row * 42,
        drift = (row % 2 ? -1 : 1) * 26 * t;
      const line = Array.from({ length: 14 }, (_, i) => {
        const x = -60 + i * 56 + (((drift % 56) + 56) % 56);
        return `${i ? 'Q' : `M${x - 56},${y} Q`}${x - 28},${y - 12 - row * 2} ${x},${y}`;
      }).join(' ');
      const fill = ['#2f6f86', '#2a6379', '#24566b', '#1e495c'][row];
      return `<path d="${line} L760,520 L-80,520 Z" fill="${fill}" ${INK} stroke-width="2"/>`;
    })
    .join('');
}

/** A boat with mast, rigging of thin diagonals, and its skipper. */
function boat(x: number, y: number, tilt: number, wave: number): string {
  const rigging = [-120, -84, -48, 58, 92, 126].map((d) => `<line x1="0" y1="-232" x2="${d}" y2="-2" ${INK} stroke-width="1.2"/>`).join('');
  const arm = `<path d="M44,-58 Q64,${-64 - 16 * wave} 78,${-82 - 26 * wave}" fill="none" stroke="#c8452f" stroke-width="13" stroke-linecap="round"/><circle cx="80" cy="${-86 - 26 * wave}" r="8" fill="#f0c9a4" ${INK} stroke-width="2.4"/>`;
  return `<g transform="translate(${x},${y}) rotate(${tilt})">
<path d="M-6,-236 L-6,-20 L-112,-20 Q-70,-130 -6,-236 Z" fill="#f4ecd8" ${INK} stroke-width="3"/>
<path d="M6,-210 Q70,-120 92,-24 L6,-24 Z" fill="#e7dcc0" ${INK} stroke-width="3"/>
<rect x="-5" y="-246" width="10" height="246" fill="#7a5230" ${INK} stroke-width="2.4"/>${rigging}
<path d="M0,-246 L46,-236 L0,-224 Z" fill="#c8452f" ${INK} stroke-width="2.4"/>
<circle cx="36" cy="-86" r="17" fill="#f0c9a4" ${INK} stroke-width="2.8"/><path d="M18,-92 Q36,-116 54,-92 Z" fill="#24566b" ${INK} stroke-width="2.6"/>
<circle cx="42" cy="-86" r="2.6" fill="#1a1512"/><path d="M38,-78 Q44,-74 48,-79" fill="none" ${INK} stroke-width="2"/>
<path d="M22,-68 Q36,-76 50,-68 L54,-18 L18,-18 Z" fill="#c8452f" ${INK} stroke-width="2.8"/>${arm}
<path d="M-138,-20 L150,-20 Q128,42 84,46 L-84,46 Q-126,38 -138,-20 Z" fill="#a8392a" ${INK} stroke-width="3.4"/>
<path d="M-134,-4 Q0,8 146,-4" fill="none" stroke="#f4ecd8" stroke-width="5"/></g>`;
}

async function drawing(n: number): Promise<Raster> {
  const t = n / RATE;
  const clouds = [
    [120, 90, 60],
    [400, 60, 76],
    [640, 110, 54],
  ].map(([x, y, r], i) => {
    const at = x - 9 * t * (i + 1);
    return `<path d="M${at - r},${y} q${r * 0.2},${-r * 0.6} ${r * 0.7},${-r * 0.4} q${r * 0.5},${-r * 0.5} ${r * 0.9},${r * 0.1} q${r * 0.5},0 ${r * 0.4},${r * 0.3} Z" fill="#fbf6ea" ${INK} stroke-width="2"/>`;
  });
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="720" height="480" viewBox="0 0 640 480" preserveAspectRatio="none">
<rect width="640" height="480" fill="#a9d3dc"/><circle cx="520" cy="110" r="44" fill="#f6d873" ${INK} stroke-width="2.6"/>${clouds.join('')}
<path d="M-10,300 Q90,236 190,262 T420,270 T660,240 L660,340 L-10,340 Z" fill="#7fa06a" ${INK} stroke-width="2.6"/>
${gull(140 + 40 * t, 150 - 8 * t, 26, 9 * t)}${gull(220 + 34 * t, 120 - 4 * t, 18, 11 * t + 1)}
${boat(110 + 62 * t, 318 + 6 * Math.sin(2.6 * t), 4 * Math.sin(2.2 * t), Math.sin(5 * t))}${waves(t)}</svg>`;
  const { data, info } = await sharp(Buffer.from(svg)).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: Float32Array.from(data) };
}

/** A drawn film on disc: twelve drawings a second, telecined, and coded so tightly that the outlines shimmer. */
export async function makeDrawn(output: string, truths: string): Promise<void> {
  const truth = new Truth();
  const drawings: Raster[] = [];
  for (let n = 0; n < RATE * SECONDS; n++) drawings.push(truth.take(await drawing(n)));
  const frames = drawings.flatMap((d) => [d, d]);
  const tune = `sine=frequency=523:duration=${SECONDS},volume='0.12*(1+sin(2*PI*t*2))':eval=frame`;
  await encodeFrames(
    frames,
    { width: 720, height: 480 },
    '24000/1001',
    ['-f', 'lavfi', '-i', tune],
    [
      ...interlacedMpeg2({
        ...{ rate: '1700k', most: '2600k', keyEvery: 15, pixelAspect: '8/9', colour: 'smpte170m', transfer: 'smpte170m' },
        filters: 'telecine=first_field=top:pattern=23',
      }),
      ...['-bf', '2', '-c:a', 'ac3', '-b:a', '96k', '-shortest', '-f', 'vob', output],
    ],
  );
  await truth.write(truths, output, '12000/1001', '8/9');
}
