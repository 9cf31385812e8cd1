import { useEffect, useRef } from 'react';
import { toast } from 'sonner';
import { useStore } from 'zustand';
import type { PlanAnswer } from '../../../archive';
import { api } from '../../parts/api';
import { versionAt, type Unsent } from './history';
import { useBenchStore, type Bench } from './store';
import type { VersionNameRequest, VersionRequest, PlanRequest } from '../../../shared/requests';

/** Milliseconds before the archive is told. */
const QUIET_MS = 120;

/** Tells the archive every change of the plan, one after the other, and learns what the plan makes of the picture. */
export function usePlanSync(): void {
  const bench = useBenchStore();
  const waiting = useStore(bench, (s) => s.history.unsent.length);
  const sending = useRef(false);
  useEffect(() => {
    if (sending.current || waiting === 0) return;
    sending.current = true;
    // The picture comes first, and of several moves in a row only the last is told.
    void new Promise((resolve) => setTimeout(resolve, QUIET_MS)).then(() => sendAll(bench)).finally(() => (sending.current = false));
  }, [bench, waiting]);
}

async function sendAll(bench: Bench): Promise<void> {
  for (let [next] = bench.getState().history.unsent; next; [next] = bench.getState().history.unsent) {
    try {
      const answer = await send(bench, next);
      if (answer) learn(bench, next.key, answer);
    } catch (error) {
      toast.error(`The plan was not kept: ${(error as Error).message}`);
    }
    bench.setState(({ history }) => ({ history: { ...history, unsent: history.unsent.slice(1) } }));
  }
}

async function send(bench: Bench, { what, key }: Unsent): Promise<PlanAnswer | undefined> {
  const { item, history } = bench.getState();
  const version = versionAt(history, key);
  if (!version) return undefined;
  if (what === 'name') {
    await api(`items/${item.id}/plan/${version.number}`, { method: 'PATCH', json: { name: version.name } satisfies VersionNameRequest });
    return undefined;
  }
  // A version that could not be kept is kept anew when one goes back to it.
  if (what === 'go' && version.number !== undefined)
    return api<PlanAnswer>(`items/${item.id}/plan/go`, { method: 'POST', json: { version: version.number } satisfies VersionRequest });
  return api<PlanAnswer>(`items/${item.id}/plan`, {
    method: 'PUT',
    json: { plan: version.plan, change: version.change.slice(0, 300) } satisfies PlanRequest,
  });
}

function learn(bench: Bench, key: string, { plan, description }: PlanAnswer): void {
  bench.setState(({ history }) => ({
    history: { ...history, versions: history.versions.map((v) => (v.key === key ? { ...v, number: plan.version } : v)) },
    ...(history.at === key && { description }),
  }));
}
