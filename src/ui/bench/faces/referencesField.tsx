'use client';

import { useMutation } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { PeopleAnswer, ReferencesAnswer } from '../../../archive';
import { type PlanStep, stepOf } from '../../../shared/plan';
import { api } from '../../parts/api';
import { changeSetting } from '../state/planActions';
import { livePlan, useBench, useBenchStore } from '../state/store';
import type { ListedFace } from './faceActions';
import { restoredBy, textOf, withChosen } from './referenceActions';
import { useListedFaces } from './useListedFaces';

/** Milliseconds between two looks at how far the collection was looked through. */
const AGAIN_MS = 1000;

/** Has other pictures of the people in this one chosen, face by face; what was kept or left out by hand stays so. */
export function ReferencesField({ step, settingKey, value, id }: { step: PlanStep; settingKey: string; value: string; id: string }) {
  const bench = useBenchStore();
  const item = useBench((s) => s.item.id);
  const { faces } = useListedFaces(textOf(step.settings.each));
  // Those that were placed by hand have no mesh that other pictures could be laid on.
  const found = faces.filter(({ said }) => said?.width === undefined);
  const collection = useBench((s) => s.item.collectionId);
  const [at, setAt] = useState('');
  const gone = useRef(false);
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);
  /** Waits until the people of all stills are known. */
  async function lookedThrough(): Promise<boolean> {
    for (let first = true; !gone.current; first = false) {
      const { share } = await api<PeopleAnswer>(`collections/${collection}/people`);
      if (share === 1) return true;
      setAt(`looking, ${Math.floor(100 * share)} %`);
      await new Promise((resolve) => setTimeout(resolve, first ? 0 : AGAIN_MS));
    }
    return false;
  }
  const choose = useMutation({
    async mutationFn() {
      if (!(await lookedThrough())) return undefined;
      let text = value,
        unknown = 0;
      for (const [n, face] of found.entries()) {
        if (gone.current) return undefined;
        setAt(`face ${n + 1} of ${found.length}`);
        const { x, y, width, height } = face.box;
        const json = { x: x + width / 2, y: y + height / 2, ...(face.along && { frame: face.along.best }) };
        const answer = await api<ReferencesAnswer>(`items/${item}/references`, { method: 'POST', json });
        if (answer.unknown) unknown++;
        text = withChosen(text, face, answer.pictures);
      }
      return { text, unknown };
    },
    onSuccess(made) {
      if (!made || !stepOf(livePlan(bench.getState()), step.id)) return;
      const { text, unknown } = made;
      if (text !== value) changeSetting(bench, step.id, settingKey, text);
      toast.success(chosenWords(restoredBy(text, found), found, unknown));
    },
    onError: (error) => toast.error(error.message),
  });
  return (
    <span className="col-span-2 flex items-center gap-2">
      <button
        id={id}
        type="button"
        className="btn shrink-0"
        aria-label="Find in People"
        disabled={found.length === 0 || choose.isPending}
        title="Looks in People for other pictures of everybody here that show more, near in pose and in age"
        onClick={() => choose.mutate()}
      >
        Find in People
      </button>
      <span className="truncate text-ink2 tabular-nums" role="status">
        {choose.isPending ? at : `for ${restoredBy(value, found)} of ${found.length}`}
      </span>
    </span>
  );
}

function chosenWords(count: number, faces: readonly ListedFace[], unknown: number): string {
  const whom = unknown === faces.length ? 'any of them' : unknown === 1 ? 'one of them' : `${unknown} of them`;
  const nobody = unknown ? ` People does not know ${whom}.` : '';
  return `${count} of ${faces.length} ${faces.length === 1 ? 'face' : 'faces'} can be restored by other pictures.${nobody}`;
}
