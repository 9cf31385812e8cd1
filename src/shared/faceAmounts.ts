/** How much of a face's restoration is wanted, as a setting holds it. */
export interface FaceAmount {
  /** The face's middle, in fractions of the source. */
  x: number;
  y: number;
  /** Percent of what the step's own amount gives. */
  amount: number;
  /** Width in fractions of the source's, of a face that was added by hand. */
  width?: number;
  /** Degrees that such a face is tilted clockwise, -90 to 90; upright where left out. */
  turn?: number;
  /** Frame of a film in which it lies there. */
  frame?: number;
}

const NUMBER = '-?[01](?:\\.\\d{1,5})?';
const ADDED = `,${NUMBER}(?:,-?\\d{1,2}(?:\\.\\d)?)?`;
const ONE = `${NUMBER},${NUMBER},\\d{1,3}(?:${ADDED})?(?:@\\d{1,7})?`;
/** Faces as a setting holds them; those that are not named get all. */
export const FACE_AMOUNTS = new RegExp(`^(?:${ONE}(?: ${ONE})*)?$`);

export const faceAmounts = (text: string): FaceAmount[] =>
  text
    .split(' ')
    .filter(Boolean)
    .map((face) => {
      const [place, frame] = face.split('@');
      const [x, y, amount, width, turn] = place.split(',').map(Number);
      const added = { ...(width !== undefined && { width }), ...(turn !== undefined && { turn }) };
      return { x, y, amount, ...added, ...(frame !== undefined && { frame: Number(frame) }) };
    });

export function faceAmountsText(faces: readonly FaceAmount[]): string {
  const short = (v: number): string => String(Number(Math.min(1, Math.max(0, v)).toFixed(5)));
  return faces
    .map(({ x, y, amount, width, turn, frame }) => {
      const added = width === undefined ? [] : [short(width), ...(turn === undefined ? [] : [turn])];
      return [short(x), short(y), Math.round(amount), ...added].join(',') + (frame === undefined ? '' : `@${frame}`);
    })
    .join(' ');
}

/** Whether a face that is placed by hand stands for one whose middle lies there: within its own middle half. @param source its size. */
export const standsFor = (
  { x, y, width }: FaceAmount,
  middle: { x: number; y: number },
  source: { width: number; height: number },
): boolean =>
  width !== undefined && Math.abs(middle.x - x) < width / 4 && Math.abs(middle.y - y) < (width * source.width) / source.height / 4;

/** Where the eyes of an added face lie: how far apart, and how far above its middle, in its widths. */
const EYES = { apart: 0.45, above: 0.1 };

/**
 * The face whose eyes lie at two places, whichever is named first: placed, turned and as large as they say.
 * @param one and `other` in fractions of the source.
 */
export function faceOfEyes(
  one: { x: number; y: number },
  other: { x: number; y: number },
  source: { width: number; height: number },
): FaceAmount {
  const [left, right] = one.x <= other.x ? [one, other] : [other, one];
  const across = (right.x - left.x) * source.width,
    down = (right.y - left.y) * source.height;
  const width = Math.hypot(across, down) / EYES.apart;
  const turn = Math.atan2(down, across);
  const below = EYES.above * width;
  const degrees = Math.round((1800 * turn) / Math.PI) / 10;
  return {
    x: (left.x + right.x) / 2 - (below * Math.sin(turn)) / source.width,
    y: (left.y + right.y) / 2 + (below * Math.cos(turn)) / source.height,
    ...{ amount: 100, width: width / source.width, ...(degrees !== 0 && { turn: degrees }) },
  };
}

/** Shares of a face's width by which a named middle may lie off its own. */
const NEAR = 0.5;

/** What is said of a face; undefined where nothing is. */
export const saidOf = <Said extends Pick<FaceAmount, 'x' | 'y' | 'width'>>(
  said: readonly Said[],
  face: { x: number; y: number; width: number; height: number },
): Said | undefined =>
  said.find(
    ({ x, y, width }) =>
      width === undefined &&
      Math.abs(x - face.x - face.width / 2) < NEAR * face.width &&
      Math.abs(y - face.y - face.height / 2) < NEAR * face.height,
  );
