'use client';

import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useCallback, useState, type ReactNode } from 'react';
import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels';
import { api, type ItemAnswer } from '../parts/api';
import { Sheet } from '../parts/ask';
import { duration, shapeText } from '../parts/format';
import { Shell } from '../parts/shell';
import { SHORTCUTS, useBenchKeys } from './keys';
import { Ladder } from './ladder';
import { usePlanSync } from './planSync';
import { QueueDialog } from './queueDialog';
import { RecordPanel } from './record';
import { BenchContext, createBench, useBench } from './store';
import { usePlayback, useStretch } from './stretch';
import { TimeRuler, Transport } from './transport';
import { Viewer } from './viewer';

/** The bench of one item, once it is examined. */
export function BenchPlace({ id }: { id: string }) {
  const { data, error } = useQuery({
    queryKey: ['item', id],
    queryFn: () => api<ItemAnswer>(`items/${id}`),
    staleTime: 0,
    gcTime: 0,
    refetchInterval: (query) => (query.state.data?.item.state === 'examining' ? 700 : false),
  });
  if (error) return <Waiting answer={undefined}>{error.message}</Waiting>;
  if (!data) return <Waiting answer={undefined}>Opening…</Waiting>;
  if (data.item.state === 'failed') return <Waiting answer={data}>{data.item.message} The original is kept untouched.</Waiting>;
  if (!data.plan || !data.description || data.item.state === 'examining')
    return <Waiting answer={data}>The item is being examined; its plan comes with the condition report.</Waiting>;
  return <ReadyBench key={id} answer={{ ...data, plan: data.plan, description: data.description }} />;
}

function Trail({ answer }: { answer: ItemAnswer | undefined }) {
  if (!answer) return <span className="text-ink2">…</span>;
  const { item, collection } = answer;
  return (
    <>
      <Link href={`/collections/${collection.id}`} className="shrink-0 text-ink2 hover:text-ink">
        {collection.name}
      </Link>
      <h1 className="min-w-0 truncate text-[15px]">{item.name}</h1>
      {item.kind === 'moving' && (
        <span className="truncate text-ink2">
          {shapeText(item.facts.stream)} · {duration(item.facts.duration)}
        </span>
      )}
    </>
  );
}

function Waiting({ answer, children }: { answer: ItemAnswer | undefined; children: ReactNode }) {
  return (
    <Shell trail={<Trail answer={answer} />}>
      <main className="p-8 text-[15px]">
        <p role="status">{children}</p>
      </main>
    </Shell>
  );
}

function ReadyBench({ answer }: { answer: Parameters<typeof createBench>[0] }) {
  const [bench] = useState(() => createBench(answer));
  return (
    <BenchContext value={bench}>
      <BenchLayout answer={answer} />
    </BenchContext>
  );
}

const memory = typeof window === 'undefined' ? undefined : window.localStorage;
/** Where the server renders, nothing is remembered. */
const NO_MEMORY = { getItem: () => null, setItem: () => undefined };

function BenchLayout({ answer }: { answer: ItemAnswer }) {
  const stretch = useStretch();
  const [queueing, setQueueing] = useState(false);
  const [listing, setListing] = useState(false);
  usePlanSync();
  usePlayback(stretch);
  useBenchKeys(
    stretch,
    useCallback(() => setListing(true), []),
  );
  const moving = useBench((s) => s.output.frames > 1 || s.description.source.frames > 1);
  const layout = useDefaultLayout({ id: 'bench', storage: memory ?? NO_MEMORY });
  return (
    <Shell
      trail={<Trail answer={answer} />}
      actions={
        <>
          <button type="button" className="btn" onClick={() => setListing(true)}>
            Keys <kbd className="key">?</kbd>
          </button>
          <button type="button" className="btn btn-act" onClick={() => setQueueing(true)}>
            Add to queue
          </button>
        </>
      }
    >
      <main className="flex min-h-0 flex-1 flex-col">
        <Group id="bench" className="min-h-0 flex-1" defaultLayout={layout.defaultLayout} onLayoutChanged={layout.onLayoutChanged}>
          <Panel id="plan" defaultSize="268px" minSize="220px" maxSize="40%" collapsible groupResizeBehavior="preserve-pixel-size">
            <Ladder />
          </Panel>
          <Separator className="w-px bg-rule hover:bg-act focus-visible:bg-act" aria-label="Width of the plan" />
          <Panel id="picture" minSize="30%">
            <Viewer stretch={stretch} />
          </Panel>
          <Separator className="w-px bg-rule hover:bg-act focus-visible:bg-act" aria-label="Width of the record" />
          <Panel id="record" defaultSize="252px" minSize="200px" maxSize="36%" collapsible groupResizeBehavior="preserve-pixel-size">
            <RecordPanel />
          </Panel>
        </Group>
        {moving && (
          <section aria-label="Running time" className="grid h-[124px] shrink-0 grid-cols-[268px_1fr] border-t">
            <Transport stretch={stretch} />
            <div className="border-l">
              <TimeRuler stretch={stretch} />
            </div>
          </section>
        )}
      </main>
      <QueueDialog open={queueing} onOpenChange={setQueueing} />
      <Sheet title="Keys of the bench" open={listing} onOpenChange={setListing}>
        <dl className="grid grid-cols-[120px_1fr] gap-y-1.5">
          {SHORTCUTS.map(({ keys, does }) => (
            <div key={keys} className="contents">
              <dt className="font-semibold">{keys}</dt>
              <dd>{does}</dd>
            </div>
          ))}
        </dl>
      </Sheet>
    </Shell>
  );
}
