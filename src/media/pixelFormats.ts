/** Raw formats frames come and go in, and what they mean. */
export interface PixelLayout {
  /** Format ffmpeg is asked for. */
  name: string;
  planes: 1 | 3;
  chromaShiftX: number;
  chromaShiftY: number;
  depth: number;
  /** Full range by its name alone. */
  full: boolean;
  /** Made from a format of another kind (RGB, packed). */
  converted: boolean;
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
  const grey = /^gray(?:(9|10|12|14|16)le)?$/.exec(name);
  if (grey) return { name, planes: 1, chromaShiftX: 0, chromaShiftY: 0, depth: Number(grey[1] ?? 8), full: false, converted: false };
  const yuv = /^yuv(j?)(4\d\d)p(?:(9|10|12|14|16)le)?$/.exec(name);
  if (!yuv || !(yuv[2] in SUBSAMPLING)) return undefined;
  const [chromaShiftX, chromaShiftY] = SUBSAMPLING[yuv[2]];
  return { name, planes: 3, chromaShiftX, chromaShiftY, depth: Number(yuv[3] ?? 8), full: yuv[1] === 'j', converted: false };
}

const NEAREST: Record<string, string> = {
  nv12: 'yuv420p',
  nv21: 'yuv420p',
  nv16: 'yuv422p',
  yuyv422: 'yuv422p',
  uyvy422: 'yuv422p',
  p010le: 'yuv420p10le',
  p210le: 'yuv422p10le',
  yuva420p: 'yuv420p',
  yuva422p: 'yuv422p',
  yuva444p: 'yuv444p',
  yuva444p10le: 'yuv444p10le',
  yuva444p12le: 'yuv444p12le',
  yuva422p10le: 'yuv422p10le',
  ya8: 'gray',
  monob: 'gray',
  monow: 'gray',
};

/** The layout frames of a decoder's pixel format are read in: its own when planar, else the nearest that loses nothing seen. */
export function layoutFor(pixelFormat: string): PixelLayout {
  const own = planar(pixelFormat);
  if (own) return own;
  const near = NEAREST[pixelFormat] ?? (/10|12|14|16|48|64/.test(pixelFormat) ? 'yuv444p16le' : 'yuv444p');
  return { ...(planar(near) as PixelLayout), converted: true };
}

/** Name of the planar format with this subsampling and depth. */
export function planarName(planes: 1 | 3, shiftX: number, shiftY: number, depth: 8 | 10 | 12 | 16): string {
  const suffix = depth === 8 ? '' : `${depth}le`;
  if (planes === 1) return `gray${suffix}`;
  const found = Object.entries(SUBSAMPLING).find(([, [x, y]]) => x === shiftX && y === shiftY);
  return `yuv${found ? found[0] : '444'}p${suffix}`;
}
