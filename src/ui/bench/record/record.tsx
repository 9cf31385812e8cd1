'use client';

import { Tabs } from 'radix-ui';
import type { ReactNode } from 'react';
import type { Item } from '../../../archive';
import { bytes, duration, shapeText } from '../../parts/format';
import { AboutPanel } from './aboutPanel';
import { HistoryPanel } from './historyPanel';
import { useBench } from '../state/store';
import { PrintsButton } from './printsButton';
import { StripList } from '../strips/stripList';

type TrackFacts = Item['facts']['tracks'][number];

/** What is known of the item: the measured condition, what its container says, the plan's versions, the test strips. */
export function RecordPanel() {
  const item = useBench((s) => s.item);
  const tab =
    'h-[34px] border-b-2 border-transparent text-ink2 cursor-pointer data-[state=active]:border-ink data-[state=active]:font-semibold data-[state=active]:text-ink';
  const pages: [string, ReactNode][] = [
    ['Condition', <Condition key="condition" item={item} />],
    ['Facts', <Facts key="facts" item={item} />],
    ['About', <AboutPanel key="about" />],
    ['History', <HistoryPanel key="history" />],
    ['Strips', <StripList key="strips" />],
  ];
  return (
    <Tabs.Root defaultValue="Condition" className="flex h-full flex-col bg-paper">
      <Tabs.List aria-label="Record" className="flex h-[34px] shrink-0 gap-2 overflow-x-auto border-b px-[12px]">
        {pages.map(([name]) => (
          <Tabs.Trigger key={name} value={name} className={tab}>
            {name}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      {pages.map(([name, page]) => (
        <Tabs.Content key={name} value={name} className="min-h-0 flex-1 overflow-y-auto" tabIndex={0}>
          {page}
        </Tabs.Content>
      ))}
    </Tabs.Root>
  );
}

function Row({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="grid grid-cols-[82px_1fr] gap-2 border-b px-[14px] py-[7px]">
      <dt className="text-ink2">{name}</dt>
      <dd className="min-w-0 break-words">{children}</dd>
    </div>
  );
}

function Condition({ item }: { item: Item }) {
  const { condition } = item;
  if (!condition) return <p className="p-3 text-ink2">Not examined yet.</p>;
  return (
    <>
      <dl>
        {condition.findings.map((f) => (
          <Row key={f.id} name={f.name}>
            <span className={f.severity === 'moderate' || f.severity === 'strong' ? 'font-semibold' : ''}>
              {f.reading.replaceAll('σ ', 'σ\u00a0')}
            </span>
            <div className="text-ink2">{f.detail}</div>
            {f.id === 'prints' && (condition.measurements.papers?.length ?? 0) > 1 && !item.facts.part?.print && (
              <PrintsButton item={item} />
            )}
            {f.confidence < 0.8 && <div className="text-warn">unsure, {Math.round(f.confidence * 100)} %</div>}
          </Row>
        ))}
      </dl>
      <p className="px-[14px] py-2 text-ink2">
        {item.kind === 'moving'
          ? `Measured on ${condition.sampled.length} of ${item.facts.stream.frames.toLocaleString('en-GB')} frames.`
          : 'Measured on the whole picture.'}
      </p>
    </>
  );
}

function trackText(t: TrackFacts): string {
  const sound = t.channels
    ? `, ${t.channels === 1 ? 'mono' : t.channels === 2 ? 'stereo' : `${t.channels} channels`}${t.sampleRate ? `, ${(t.sampleRate / 1000).toLocaleString('en-GB')} kHz` : ''}`
    : '';
  return `${t.codec}${sound}${t.bitmap ? ', as pictures' : ''}${t.title ? `, “${t.title}”` : ''}${t.default ? ', default' : ''}${t.forced ? ', forced' : ''}`;
}

function Facts({ item }: { item: Item }) {
  const { facts } = item;
  const { sha256 } = item.source;
  const { stream } = facts;
  const ratio = (r: { num: number; den: number }, sign: string): string => `${r.num}${sign}${r.den}`;
  return (
    <dl>
      <Row name="File">{item.source.fileName}</Row>
      <Row name="Storage">
        {facts.container}, {facts.codec}
        <div className="text-ink2">
          {facts.pixelFormat}, {bytes(item.source.bytes)}
        </div>
      </Row>
      <Row name="Pixels">
        {stream.width} × {stream.height}
        <div className="text-ink2">
          pixel {ratio(stream.pixelAspect, ':')}, shown {shapeText(stream)}
        </div>
      </Row>
      {facts.kind === 'moving' ? (
        <>
          <Row name="Rate">
            {ratio(stream.rate, '/')} fr/s{facts.variableRate && ', variable'}
            <div className="text-ink2">
              {stream.frames.toLocaleString('en-GB')} frames, {duration(facts.duration)}
            </div>
          </Row>
          <Row name="Colour">
            {stream.colour.matrix}, {stream.colour.range}
            <div className="text-ink2">
              {stream.depth} bits, {stream.colour.primaries}
            </div>
          </Row>
          {facts.tracks.map((t) => (
            <Row key={t.index} name={t.kind === 'sound' ? 'Sound' : 'Subtitles'}>
              {t.language || 'no language said'}
              <div className="text-ink2">{trackText(t)}</div>
            </Row>
          ))}
        </>
      ) : (
        <Row name="Depth">
          {stream.depth} bits{stream.planes === 1 && ', one channel'}
          {facts.profile && <div className="text-ink2">{facts.profile.name}</div>}
          {facts.density && <div className="text-ink2">{Math.round(facts.density)} ppi said in the file</div>}
        </Row>
      )}
      {facts.damage.map((text) => (
        <Row key={text} name="Damage">
          <span className="text-warn">{text}</span>
        </Row>
      ))}
      {facts.notes.map((text) => (
        <Row key={text} name="Note">
          {text}
        </Row>
      ))}
      <Row name="SHA-256">
        <span className="font-mono text-[11px] break-all">{sha256}</span>
      </Row>
    </dl>
  );
}
