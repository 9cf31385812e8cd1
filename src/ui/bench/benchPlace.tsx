'use client';

import { useQuery } from '@tanstack/react-query';
import Link from 'next/link';
import { useMemo, useState, type ReactNode } from 'react';
import { Group, Panel, Separator, useDefaultLayout } from 'react-resizable-panels';
import { api } from '../parts/api';
import { duration, shapeText } from '../parts/format';
import { Shell } from '../parts/shell';
import { useBenchCommands } from './state/keys';
import { Ladder } from './ladder/ladder';
import { usePlanSync } from './state/planSync';
import { QueueDialog } from './queue/queueDialog';
import { RecordPanel } from './record/record';
import { BenchContext, createBench, useBench } from './state/store';
import { usePlayback, useStretch } from './time/stretch';
import { StripDialog } from './strips/stripDialog';
import { StripView } from './strips/stripView';
import { TemplateDialog } from './ladder/templateDialog';
import { SplitDialog } from './time/splitDialog';
import { TimeRuler } from './time/timeRuler';
import { Transport } from './time/transport';
import { Viewer } from './picture/viewer';
import { WorstPlaces } from './time/worstPlaces';
import type { ItemAnswer } from '../../archive';

const isReady = ({ item, plan, description }: ItemAnswer): boolean => item.state !== 'examining' && !!plan && !!description;

/** The bench of one item, once it is examined. */
export function BenchPlace({ id }: { id: string }) {
  const { data, error } = useQuery({
    queryKey: ['item', id],
    queryFn: () => api<ItemAnswer>(`items/${id}`),
    staleTime: 0,
    gcTime: 0,
    refetchInterval: ({ state: { data: known } }) => (known && known.item.state !== 'failed' && !isReady(known) ? 700 : false),
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
        {answer?.pictured && (
          // eslint-disable-next-line @next/next/no-img-element -- A thumbnail of the archive's own; the framework's image service would only copy it.
          <img src={`/api/items/${answer.item.id}/thumbnail`} alt={answer.item.name} className="mt-6 max-w-full" />
        )}
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
  const [asking, setAsking] = useState<'queue' | 'strip' | 'template' | 'split'>();
  usePlanSync();
  usePlayback(stretch);
  const doors = useMemo(
    () => ({
      queue: () => setAsking('queue'),
      strips: () => setAsking('strip'),
      template: () => setAsking('template'),
      split: () => setAsking('split'),
    }),
    [],
  );
  useBenchCommands(stretch, doors);
  const strip = useBench((s) => s.strip);
  const dialog = (which: typeof asking) => ({
    open: asking === which,
    onOpenChange: (open: boolean) => setAsking(open ? which : undefined),
  });
  const moving = useBench((s) => s.output.frames > 1 || s.description.source.frames > 1);
  const columns = useDefaultLayout({ id: 'bench', storage: memory ?? NO_MEMORY });
  const rows = useDefaultLayout({ id: 'bench-rows', storage: memory ?? NO_MEMORY });
  return (
    <Shell
      trail={<Trail answer={answer} />}
      actions={
        <>
          <button type="button" className="btn" onClick={doors.strips}>
            Test strip…
          </button>
          <button type="button" className="btn btn-act" onClick={doors.queue}>
            Add to queue
          </button>
        </>
      }
    >
      <main className="flex min-h-0 flex-1 flex-col">
        <Group
          id="bench-rows"
          orientation="vertical"
          className="min-h-0 flex-1"
          defaultLayout={rows.defaultLayout}
          onLayoutChanged={rows.onLayoutChanged}
        >
          <Panel id="work" minSize="40%">
            <Group id="bench" className="h-full" defaultLayout={columns.defaultLayout} onLayoutChanged={columns.onLayoutChanged}>
              <Panel id="plan" defaultSize="268px" minSize="220px" maxSize="40%" collapsible groupResizeBehavior="preserve-pixel-size">
                <Ladder />
              </Panel>
              <Separator className="w-px bg-rule hover:bg-act focus-visible:bg-act" aria-label="Width of the plan" />
              <Panel id="picture" minSize="30%">
                {strip ? <StripView key={strip.id} strip={strip} /> : <Viewer stretch={stretch} />}
              </Panel>
              <Separator className="w-px bg-rule hover:bg-act focus-visible:bg-act" aria-label="Width of the record" />
              <Panel id="record" defaultSize="252px" minSize="200px" maxSize="36%" collapsible groupResizeBehavior="preserve-pixel-size">
                <RecordPanel />
              </Panel>
            </Group>
          </Panel>
          {moving && (
            <>
              <Separator className="h-px bg-rule hover:bg-act focus-visible:bg-act" aria-label="Height of the running time" />
              <Panel id="time" defaultSize="164px" minSize="124px" maxSize="50%" groupResizeBehavior="preserve-pixel-size">
                <section aria-label="Running time" className="grid h-full grid-cols-[268px_1fr_252px]">
                  <Transport stretch={stretch} split={doors.split} />
                  <div className="min-w-0 border-l">
                    <TimeRuler stretch={stretch} />
                  </div>
                  <div className="min-h-0 border-l">
                    <WorstPlaces />
                  </div>
                </section>
              </Panel>
            </>
          )}
        </Group>
      </main>
      <QueueDialog {...dialog('queue')} />
      <StripDialog {...dialog('strip')} />
      <TemplateDialog {...dialog('template')} />
      {moving && <SplitDialog {...dialog('split')} />}
    </Shell>
  );
}
