import { type Failure, failureOf, type Grouped, type GroupFace, groupFaces, type PairAnswer } from '../core';

/** Entry of a thread that puts faces together by person. */
export default function group({ faces, answers }: { faces: GroupFace[]; answers: PairAnswer[] }): Grouped | Failure {
  try {
    return groupFaces(faces, answers);
  } catch (error) {
    return failureOf(error);
  }
}
