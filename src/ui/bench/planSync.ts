import { useEffect, useRef } from 'react';
import { toast } from 'sonner';
import { useStore } from 'zustand';
import type { PlanVersion } from '../../archive/types';
import { api, type PlanDescription } from '../parts/api';
import { useBenchStore } from './store';

/** Quiet time after which a changed plan is kept, milliseconds. */
const QUIET = 150;

/** Keeps every change of the plan as a version on the server, and learns what it makes of the picture. */
export function usePlanSync(): void {
  const bench = useBenchStore();
  const plan = useStore(bench, (s) => s.plan);
  const kept = useRef(plan);
  const turn = useRef(0);
  useEffect(() => {
    if (plan === kept.current) return;
    const mine = ++turn.current;
    const timer = setTimeout(() => {
      const { item, change } = bench.getState();
      api<{ plan: PlanVersion; description: PlanDescription }>(`items/${item.id}/plan`, {
        method: 'PUT',
        json: { plan, change: change.slice(0, 300) },
      })
        .then((answer) => {
          kept.current = plan;
          if (mine !== turn.current) return;
          bench.setState({ version: answer.plan.version, description: answer.description });
        })
        .catch((error: Error) => toast.error(`The plan was not kept: ${error.message}`));
    }, QUIET);
    return () => clearTimeout(timer);
  }, [bench, plan]);
}
