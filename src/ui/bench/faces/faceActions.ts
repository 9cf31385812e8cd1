import { type FaceAmount, faceAmounts, faceAmountsText, faceOfEyes, saidOf, standsFor } from '../../../shared/faceAmounts';
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
  /** Where a film shows it. */
  along?: FoundFaceAnswer['along'];
}

/** The faces of a step, the smallest first: they need looking at most. */
export function listedFaces(found: readonly FoundFaceAnswer[], value: string, source: { width: number; height: number }): ListedFace[] {
  const said = faceAmounts(value);
  const own = found
    .filter(({ x, y, width, height }) => !said.some((by) => standsFor(by, { x: x + width / 2, y: y + height / 2 }, source)))
    .map((box): ListedFace => {
      const named = saidOf(
        said.filter(({ frame }) => frame === box.along?.best),
        box,
      );
      return { box, pixels: box.pixels, amount: named?.amount ?? 100, ...(named && { said: named }), along: box.along };
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
  const { width, turn } = face.said ?? {};
  const plain = amount === undefined || (amount === 100 && width === undefined);
  const placed = {
    ...(width !== undefined && { width }),
    ...(turn !== undefined && { turn }),
    ...(face.along && { frame: face.along.best }),
  };
  return faceAmountsText(plain ? rest : [...rest, { ...middle, amount, ...placed }]);
}

const same = (a: FaceAmount, b: FaceAmount | undefined): boolean =>
  a.x === b?.x && a.y === b.y && a.width === b.width && a.frame === b.frame;

/** From fractions of the plan's output to fractions of the source. */
export function toSource({ description, output }: Pick<BenchState, 'description' | 'output'>): ReturnType<typeof scaling> {
  const { width, height } = description.source;
  return composePlaces(scaling(1 / width, 1 / height), composePlaces(description.geometry, scaling(output.width, output.height)));
}

/** A place of the plan's output, in fractions of it. */
export interface Eye {
  u: number;
  v: number;
}

/** Adds a face by its two eyes, or places one anew. */
export function addFace(bench: Bench, step: string, one: Eye, other: Eye): void {
  const state = bench.getState();
  const each = stepOf(livePlan(state), step)?.settings.each;
  const [a, b] = [one, other].map(({ u, v }) => pointAt(toSource(state), u, v));
  const placed = faceOfEyes(a, b, state.description.source);
  // What was placed by hand there before gives way.
  const rest = faceAmounts(typeof each === 'string' ? each : '').filter(
    ({ x, y, width }) => width === undefined || Math.hypot(x - placed.x, y - placed.y) > width / 4,
  );
  changeSetting(bench, step, 'each', faceAmountsText([...rest, placed]));
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
