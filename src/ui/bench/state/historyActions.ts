import { after, before, movedTo, versionAt } from './history';
import type { Bench, BenchState } from './store';

/** The present version becomes another one. */
export function goToVersion(bench: Bench, key: string): void {
  const { history } = bench.getState();
  const version = versionAt(history, key);
  if (!version || key === history.at) return;
  bench.setState({ history: movedTo(history, key), plan: version.plan, draft: undefined });
}

export function undo(bench: Bench): void {
  const key = before(bench.getState().history);
  if (key) goToVersion(bench, key);
  else bench.setState({ draft: undefined });
}

export function redo(bench: Bench): void {
  const key = after(bench.getState().history);
  if (key) goToVersion(bench, key);
}

export function renameVersion(bench: Bench, key: string, name: string): void {
  bench.setState(({ history }: BenchState) => ({
    history: {
      ...history,
      versions: history.versions.map((v) => (v.key === key ? { ...v, name } : v)),
      unsent: [...history.unsent, { what: 'name', key }],
    },
  }));
}
