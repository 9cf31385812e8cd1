'use client';

import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import type { ReactNode } from 'react';
import type { ExaminedAnswer, JobProgress } from '../../archive';
import { api } from './api';
import { nextSurround, switchTheme } from './appearance';
import { useCommandKeys, useCommands, useCommandState, type Command } from './commands';
import { duration } from './format';
import { CommandPalette } from './palette';
import { PLACES } from './places';

export function useJobs() {
  return useQuery({
    queryKey: ['jobs'],
    queryFn: () => api<JobProgress[]>('jobs'),
    refetchInterval: (query) => (query.state.data?.some((j) => j.state === 'running' || j.state === 'queued') ? 700 : 4000),
  });
}

/** What is being examined, in all collections. */
export function useExamining() {
  return useQuery({ queryKey: ['examining'], queryFn: () => api<ExaminedAnswer[]>('examining'), refetchInterval: 2000 });
}

const EVERYWHERE: Command[] = [
  {
    id: 'find',
    name: 'Find a place, an item, something to do',
    group: 'Everywhere',
    keys: ['ctrl+k'],
    shown: 'Ctrl K',
    run: () => useCommandState.setState({ finding: true }),
  },
  {
    id: 'keys',
    name: 'List of keys',
    group: 'Everywhere',
    keys: ['?'],
    shown: '?',
    run: () => useCommandState.setState({ listing: true }),
  },
  { id: 'theme', name: 'Change between light and dark', group: 'Everywhere', run: switchTheme },
  { id: 'surround', name: 'Next grey round the picture', group: 'Everywhere', keys: ['g'], shown: 'G', run: nextSurround },
];

/** Whether a page is of a place, or lies within it. */
const isIn = (path: string, place: string): boolean => path === place || (place !== '/' && path.startsWith(`${place}/`));

/** The bar at the top of every place: where one is, what the queue does, what can be done here. */
export function Shell({ trail, actions, children }: { trail: ReactNode; actions?: ReactNode; children: ReactNode }) {
  const path = usePathname();
  useCommands(EVERYWHERE);
  useCommandKeys();
  return (
    <>
      <header className="flex h-10 shrink-0 items-center gap-3 border-b bg-paper px-[14px]">
        <nav aria-label="Places" className="flex shrink-0 items-center gap-4">
          {PLACES.map(({ href, name }) => (
            <Link
              key={href}
              href={href}
              aria-current={path === href ? 'page' : undefined}
              className={isIn(path, href) ? 'font-semibold text-ink' : 'text-ink2 hover:text-ink'}
            >
              {name}
            </Link>
          ))}
        </nav>
        <span className="h-4 w-px shrink-0 bg-rule2" aria-hidden />
        <div className="flex min-w-0 items-baseline gap-3 truncate">{trail}</div>
        <span className="flex-1" />
        <QueueState />
        <button type="button" className="btn shrink-0 px-1.5" onClick={switchTheme} aria-label="Change between light and dark">
          <span className="block h-[11px] w-[11px] border border-ink border-r-[6px]" aria-hidden />
        </button>
        <button type="button" className="btn shrink-0" onClick={() => useCommandState.setState({ finding: true })}>
          Find… <kbd className="key">Ctrl K</kbd>
        </button>
        {actions}
      </header>
      {children}
      <CommandPalette />
    </>
  );
}

function QueueState() {
  const { data = [] } = useJobs();
  const going = data.filter((j) => j.state === 'running' || j.state === 'queued');
  const job = going.find((j) => j.state === 'running');
  const { data: examining = [] } = useExamining();
  if (going.length === 0 && examining.length > 0)
    return (
      <Link href="/queue" className="num shrink-0 text-ink2 hover:text-ink">
        examining {examining.length}
      </Link>
    );
  if (going.length === 0) return <span className="shrink-0 text-ink2">queue empty</span>;
  return (
    <Link href="/queue" className="flex shrink-0 items-center gap-2 whitespace-nowrap text-ink2 hover:text-ink">
      Queue {going.length}
      {job && (
        <>
          <span className="block h-1 w-[44px] bg-rule" aria-hidden>
            <span className="block h-1 bg-act" style={{ width: `${(100 * job.framesDone) / job.frames}%` }} />
          </span>
          <span className="num w-[11em] text-left">
            {job.secondsPerFrame ? `${job.secondsPerFrame.toFixed(2)} s/fr` : 'starting'}
            {job.secondsLeft !== null && ` · ${duration(job.secondsLeft)} left`}
          </span>
        </>
      )}
    </Link>
  );
}
