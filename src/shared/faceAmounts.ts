/** How much of a face's restoration is wanted, as a setting holds it. */
export interface FaceAmount {
  /** The face's middle, in fractions of the source. */
  x: number;
  y: number;
  /** Percent of what the step's own amount gives. */
  amount: number;
  /** Width in fractions of the source's, of a face that was added by hand. */
  width?: number;
}

const NUMBER = '-?[01](?:\\.\\d{1,5})?';
/** Faces as a setting holds them; those that are not named get all. */
export const FACE_AMOUNTS = new RegExp(
  `^(?:${NUMBER},${NUMBER},\\d{1,3}(?:,${NUMBER})?(?: ${NUMBER},${NUMBER},\\d{1,3}(?:,${NUMBER})?)*)?$`,
);

export const faceAmounts = (text: string): FaceAmount[] =>
  text
    .split(' ')
    .filter(Boolean)
    .map((face) => {
      const [x, y, amount, width] = face.split(',').map(Number);
      return { x, y, amount, ...(width !== undefined && { width }) };
    });

export function faceAmountsText(faces: readonly FaceAmount[]): string {
  const short = (v: number): string => String(Number(Math.min(1, Math.max(0, v)).toFixed(5)));
  return faces
    .map(({ x, y, amount, width }) => [short(x), short(y), Math.round(amount), ...(width === undefined ? [] : [short(width)])].join(','))
    .join(' ');
}

/** Shares of a face's width by which a named middle may lie off its own. */
const NEAR = 0.5;

/** What is said of a face; undefined where nothing is. */
export const saidOf = (
  said: readonly FaceAmount[],
  face: { x: number; y: number; width: number; height: number },
): FaceAmount | undefined =>
  said.find(
    ({ x, y, width }) =>
      width === undefined &&
      Math.abs(x - face.x - face.width / 2) < NEAR * face.width &&
      Math.abs(y - face.y - face.height / 2) < NEAR * face.height,
  );
