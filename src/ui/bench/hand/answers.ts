import { toast } from 'sonner';
import type { Strip, StrokesChangedAnswer } from '../../../archive';
import { ANSWERS, type StrokeMark } from '../../../shared/marks';
import { invertPlace, pointAt, type Place, type Projective } from '../../../shared/maps/place';
import { stepOf, type PlanStep } from '../../../shared/plan';
import type { StripRequest, StrokesRequest } from '../../../shared/requests';
import { api } from '../../parts/api';
import type { Bench } from '../state/store';

/** Room shown round a mark, in times its extent, and at least so many pixels of the output. */
const ROOM = 0.6,
  LEAST_ROOM = 60;

/** The part of the output that shows a mark and what surrounds it, in fractions. @param geometry where the output's pixels lie in the source. */
export function placeAround(mark: StrokeMark, geometry: Projective, output: { width: number; height: number }): Place {
  const back = invertPlace(geometry);
  const radius = mark.size / 2;
  const corners = mark.points.flatMap(({ x, y }) =>
    [
      [-radius, -radius],
      [radius, radius],
    ].map(([dx, dy]) => pointAt(back, x + dx, y + dy)),
  );
  const part = (values: number[], extent: number): [number, number] => {
    const low = Math.min(...values),
      high = Math.max(...values);
    const room = Math.max(LEAST_ROOM, ROOM * (high - low));
    const from = Math.min(extent - 1, Math.max(0, low - room)),
      to = Math.max(from + 1, Math.min(extent, high + room));
    return [from / extent, (to - from) / extent];
  };
  const [x, width] = part(
    corners.map((c) => c.x),
    output.width,
  );
  const [y, height] = part(
    corners.map((c) => c.y),
    output.height,
  );
  return { x, y, width, height };
}

/** Opens a strip of what a mark would be filled with, answer by answer. @param index of the mark, from 0. */
export async function compareAnswers(bench: Bench, owner: string, mark: StrokeMark, index: number): Promise<void> {
  const { item, plan, frame, description } = bench.getState();
  const step = stepOf(plan, owner);
  if (!step) return;
  try {
    const candidates: { label: string; step: PlanStep }[] = [];
    for (let answer = 0; answer < ANSWERS; answer++) {
      const { list } = await api<StrokesChangedAnswer>(`items/${item.id}/strokes`, {
        method: 'POST',
        json: { base: step.marks, set: [{ ...mark, on: true, answer, from: undefined }], remove: [] } satisfies StrokesRequest,
      });
      candidates.push({ label: `answer ${answer + 1}`, step: { ...step, on: true, marks: list } });
    }
    const strip = await api<Strip>(`items/${item.id}/strips`, {
      method: 'POST',
      json: {
        ...{ plan, step: owner, frame, candidates },
        about: `Mark ${index + 1}: what it is filled with`,
        region: placeAround(mark, description.geometry, description.output),
      } satisfies StripRequest,
    });
    bench.setState({ strip });
  } catch (error) {
    toast.error(`The answers cannot be shown: ${(error as Error).message}`);
  }
}
