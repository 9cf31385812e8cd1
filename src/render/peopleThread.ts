import { type Failure, failureOf, type Grouped, type GroupFace, groupFaces, likenesses, type PairAnswer } from '../core';

/** How alike the faces were that were put together last, which is most of the work: answers do not change it. */
let last: { key: string; alike: Float32Array } | undefined;

/** Entry of a thread that puts faces together by person. */
export default function group({ faces, answers }: { faces: GroupFace[]; answers: PairAnswer[] }): Grouped | Failure {
  try {
    const key = faces.map(({ id, pixels, yaw, residual: [first] }) => `${id} ${pixels} ${yaw} ${first}`).join();
    if (last?.key !== key) last = { key, alike: likenesses(faces) };
    return groupFaces(faces, answers, last.alike);
  } catch (error) {
    return failureOf(error);
  }
}
