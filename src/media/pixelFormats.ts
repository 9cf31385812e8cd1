/** Raw formats frames come and go in, and what they mean. */
export interface PixelLayout {
  /** Format ffmpeg is asked for. */
  name: string;
  planes: 1 | 3;
  chromaShiftX: number;
  chromaShiftY: number;
  depth: number;
  /** Planes of green, blue and red. */
  rgb: boolean;
  /** Full range by its kind alone. */
  full: boolean;
  /** Packed or with an alpha plane in the file, so made from another format; the samples are the same. */
  converted: boolean;
  /** Format on the way there: ffmpeg's straight way would go by luma and colour differences. */
  by?: string;
}

const SUBSAMPLING: Record<string, [number, number]> = {
  '444': [0, 0],
  '422': [1, 0],
  '420': [1, 1],
  '440': [0, 1],
  '411': [2, 0],
  '410': [2, 2],
};

function planar(name: string): PixelLayout | undefined {
  const kind = /^(gray|gbrp|yuvj?(4\d\d)p)(?:(9|10|12|14|16)le)?$/.exec(name);
  if (!kind || (kind[2] && !(kind[2] in SUBSAMPLING))) return undefined;
  const rgb = kind[1] === 'gbrp',
    grey = kind[1] === 'gray';
  const [chromaShiftX, chromaShiftY] = SUBSAMPLING[kind[2] ?? '444'];
  // Grey counts as full range unless it is tagged otherwise, as ffmpeg shows it.
  const full = rgb || grey || kind[1].startsWith('yuvj');
  return { name, planes: grey ? 1 : 3, chromaShiftX, chromaShiftY, depth: Number(kind[3] ?? 8), rgb, full, converted: false };
}

/** Packed formats, and those of 9 to 16 bits in other orders, by the planar one with the same samples. */
const SAME_SAMPLES: [RegExp, string][] = [
  [/^nv(12|21)$/, 'yuv420p'],
  [/^nv(16|61)$/, 'yuv422p'],
  [/^nv(24|42)$/, 'yuv444p'],
  [/^(yuyv422|uyvy422|yvyu422)$/, 'yuv422p'],
  [/^uyyvyy411$/, 'yuv411p'],
  [/^p010/, 'yuv420p10le'],
  [/^p012/, 'yuv420p12le'],
  [/^p016/, 'yuv420p16le'],
  [/^(p210|y210)/, 'yuv422p10le'],
  [/^(p212|y212)/, 'yuv422p12le'],
  [/^(nv20|p216)/, 'yuv422p16le'],
  [/^(p410|xv30)/, 'yuv444p10le'],
  [/^(p412|xv36)/, 'yuv444p12le'],
  [/^(p416|ayuv64)/, 'yuv444p16le'],
  [/^(ya8|mono[bw])$/, 'gray'],
  [/^(ya16|grayf32)/, 'gray16le'],
  [/^(rgba?|bgra?|rgbx|bgrx)(48|64)/, 'gbrp16le'],
  [/^gbra?pf32/, 'gbrp16le'],
  [/^x2(rgb|bgr)10/, 'gbrp10le'],
  [/^xyz12/, 'gbrp12le'],
  [/^(pal8|(0|a)?(rgb|bgr)(0|a|4|8|24|444|555|565|4_byte)*(le|be)?)$/, 'gbrp'],
];

/** The layout frames of a decoder's pixel format are read in: planes with the same samples, without alpha. */
export function layoutFor(pixelFormat: string): PixelLayout {
  const own = planar(pixelFormat);
  if (own) return own;
  const plain = planar(
    pixelFormat
      .replace(/^yuva/, 'yuv')
      .replace(/^gbrap/, 'gbrp')
      .replace(/be$/, 'le'),
  );
  const by = /^pal8|(rgb|bgr)(4|8|444|555|565|4_byte)(le|be)?$/.test(pixelFormat) ? { by: 'rgb24' } : {};
  const same = plain?.name ?? SAME_SAMPLES.find(([kind]) => kind.test(pixelFormat))?.[1] ?? 'gbrp16le';
  return { ...(planar(same) as PixelLayout), ...by, converted: true };
}

/** Whether a pixel format has a plane that says how much of the picture shows; `ya8`, `rgba`, `yuva444p` and the like. */
export const hasAlpha = (pixelFormat: string): boolean => /^(ya\d|yuva|gbrap|rgba|bgra|argb|abgr|ayuv)/.test(pixelFormat);

/** Subsamplings that have no format of more than this many bits, and a finer one that has and keeps their samples or needs one interpolation. */
const FINER: Record<string, { most: number; instead: string }> = {
  '411': { most: 8, instead: '422' },
  '410': { most: 8, instead: '444' },
  '440': { most: 12, instead: '444' },
};

/** The planar format that a stream's samples are written in at a depth; chroma may have to be finer than the stream's. */
export function writtenLayout(
  { planes, chromaShiftX, chromaShiftY, rgb }: { planes: 1 | 3; chromaShiftX: number; chromaShiftY: number; rgb?: boolean },
  depth: 8 | 10 | 12 | 16,
): PixelLayout {
  const suffix = depth === 8 ? '' : `${depth}le`;
  const found = Object.entries(SUBSAMPLING).find(([, [x, y]]) => x === chromaShiftX && y === chromaShiftY);
  if (!found) throw new RangeError(`chroma 1/${1 << chromaShiftX} by 1/${1 << chromaShiftY} has no format`);
  const coarse = FINER[found[0]];
  const sampling = coarse && depth > coarse.most ? coarse.instead : found[0];
  return planar(`${planes === 1 ? 'gray' : rgb ? 'gbrp' : `yuv${sampling}p`}${suffix}`) as PixelLayout;
}
