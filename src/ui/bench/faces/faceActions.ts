import { type FaceAmount, faceAmounts, faceAmountsText, saidOf } from '../../../shared/faceAmounts';
import { composePlaces, invertPlace, placeOf, pointAt, scaling, type Place } from '../../../shared/maps/place';
import { stepOf } from '../../../shared/plan';
import type { FoundFaceAnswer } from '../../../archive';
import { changeSetting } from '../state/planActions';
import { livePlan, type Bench, type BenchState } from '../state/store';

/** A face that a step works: found, or added by hand. */
export interface ListedFace {
  /** Its box in fractions of the source. */
  box: Place;
  /** Width in pixels of the source. */
  pixels: number;
  /** Percent of what the step's amount gives. */
  amount: number;
  /** What says it, where something does. */
  said?: FaceAmount;
}

/** The faces of a step, the smallest first: they need looking at most. */
export function listedFaces(found: readonly FoundFaceAnswer[], value: string, source: { width: number; height: number }): ListedFace[] {
  const said = faceAmounts(value);
  const own = found.map((box): ListedFace => {
    const named = saidOf(said, box);
    return { box, pixels: box.pixels, amount: named?.amount ?? 100, ...(named && { said: named }) };
  });
  const added = said.flatMap((face): ListedFace[] => {
    if (face.width === undefined) return [];
    const height = (face.width * source.width) / source.height;
    const box = { x: face.x - face.width / 2, y: face.y - height / 2, width: face.width, height };
    return [{ box, pixels: Math.round(face.width * source.width), amount: face.amount, said: face }];
  });
  return [...own, ...added].sort((a, b) => a.pixels - b.pixels);
}

/** What is said of all faces once a face gets another amount; undefined takes back what was said of it. */
export function withAmount(value: string, face: ListedFace, amount: number | undefined): string {
  const rest = faceAmounts(value).filter((said) => !same(said, face.said));
  const middle = { x: face.box.x + face.box.width / 2, y: face.box.y + face.box.height / 2 };
  const width = face.said?.width;
  const plain = amount === undefined || (amount === 100 && width === undefined);
  return faceAmountsText(plain ? rest : [...rest, { ...middle, amount, ...(width !== undefined && { width }) }]);
}

const same = (a: FaceAmount, b: FaceAmount | undefined): boolean => a.x === b?.x && a.y === b.y && a.width === b.width;

/** Fraction of the source's height that an added face is wide at first. */
const FIRST_WIDTH = 0.1;

/** From fractions of the plan's output to fractions of the source. */
function toSource({ description, output }: Pick<BenchState, 'description' | 'output'>): ReturnType<typeof scaling> {
  const { width, height } = description.source;
  return composePlaces(scaling(1 / width, 1 / height), composePlaces(description.geometry, scaling(output.width, output.height)));
}

/** Adds a face where the picture was clicked. @param u, v in fractions of the plan's output. */
export function addFace(bench: Bench, step: string, u: number, v: number): void {
  const state = bench.getState();
  const { width, height } = state.description.source;
  const each = stepOf(livePlan(state), step)?.settings.each;
  const { x, y } = pointAt(toSource(state), u, v);
  const said = [...faceAmounts(typeof each === 'string' ? each : ''), { x, y, amount: 100, width: (FIRST_WIDTH * height) / width }];
  changeSetting(bench, step, 'each', faceAmountsText(said));
}

/** Where a face lies in the plan's output, with as much round it, in fractions; undefined where it is cut off. */
export function faceInOutput(state: Pick<BenchState, 'description' | 'output'>, { box }: ListedFace, round: number): Place | undefined {
  const wide = {
    x: box.x - round * box.width,
    y: box.y - round * box.height,
    ...{ width: (1 + 2 * round) * box.width, height: (1 + 2 * round) * box.height },
  };
  const at = placeOf(invertPlace(toSource(state)), wide);
  const x = Math.max(0, at.x),
    y = Math.max(0, at.y);
  const width = Math.min(1, at.x + at.width) - x,
    height = Math.min(1, at.y + at.height) - y;
  return width > 0 && height > 0 ? { x, y, width, height } : undefined;
}
