'use client';

import { LineChart } from 'echarts/charts';
import { GridComponent } from 'echarts/components';
import { init, use as register, type EChartsType } from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';
import type { TraceKind } from '../../../core';
import { secondsText } from '../../parts/format';
import { useAppearance } from '../../parts/appearance';
import { useSize } from '../../parts/size';
import { useBench } from '../state/store';
import { valueAt, type ShownTraces } from './traces';

register([LineChart, GridComponent, CanvasRenderer]);

/** Least height of a trace's row, pixels. */
const MIN_ROW_HEIGHT = 24;

/** Traces under the ruler, a row each, on the ruler's own scale. */
export function TraceRows({ traces, width }: { traces: ShownTraces; width: number }) {
  const frame = useBench((s) => s.frame);
  const box = useRef<HTMLDivElement>(null);
  const { height: room } = useSize(box);
  const shown = traces.kinds.slice(0, Math.max(1, Math.floor(room / MIN_ROW_HEIGHT)));
  const row = shown.length ? room / shown.length : 0;
  return (
    <div ref={box} className="pointer-events-none relative min-h-0 flex-1" data-testid="traces" data-done={traces.done}>
      {shown.length > 0 && room > MIN_ROW_HEIGHT && <Chart traces={traces} kinds={shown} width={width} height={room} />}
      {shown.map((kind, n) => (
        <span
          key={kind.id}
          className="absolute left-1 flex gap-1.5 bg-paper/80 px-1 text-[11px] leading-[14px] text-ink2 tabular-nums"
          style={{ top: n * row + 1 }}
          title={kind.about}
        >
          <span>{kind.name}</span>
          <span className="text-ink">
            {valueAt(traces, kind.id, frame)?.toFixed(kind.id === 'softness' || kind.id === 'blocks' ? 2 : 1) ?? '–'}
            {kind.unit && ` ${kind.unit}`}
          </span>
        </span>
      ))}
      {!traces.done && (
        <span className="absolute right-2 bottom-1 bg-paper/80 px-1 text-[11px] text-ink2 tabular-nums" role="status">
          {traces.problem ??
            `measuring, ${Math.round(traces.share * 100)} %${traces.secondsLeft === undefined ? '' : `, ${secondsText(traces.secondsLeft)} left`}`}
        </span>
      )}
    </div>
  );
}

/** Points of a row; where frames are still to be measured between two, the line breaks off. */
function withGaps(frames: number[], values: (number | null)[]): [number, number | null][] {
  const stride = Math.min(...frames.slice(1).map((frame, i) => frame - frames[i]));
  return frames.flatMap((frame, i): [number, number | null][] => [
    ...(i > 0 && frame - frames[i - 1] > stride ? [[frame - stride, null] as [number, null]] : []),
    [frame, values[i]],
  ]);
}

function Chart({ traces, kinds, width, height }: { traces: ShownTraces; kinds: TraceKind[]; width: number; height: number }) {
  const element = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType>(undefined);
  const frames = useBench((s) => s.output.frames);
  const theme = useAppearance((s) => s.theme);
  useEffect(() => {
    const made = (chart.current = init(element.current));
    return () => made.dispose();
  }, []);
  useEffect(() => {
    if (width === 0) return;
    const style = getComputedStyle(document.documentElement);
    const ink = style.getPropertyValue('--ink'),
      rule = style.getPropertyValue('--rule');
    const row = height / kinds.length;
    chart.current?.resize({ width, height });
    chart.current?.setOption(
      {
        animation: false,
        grid: kinds.map((_, n) => ({ left: 0, right: 0, top: n * row + 4, height: row - 7 })),
        xAxis: kinds.map((_, n) => ({
          type: 'value',
          gridIndex: n,
          min: 0,
          max: frames,
          axisLabel: { show: false },
          axisTick: { show: false },
          axisLine: { show: true, onZero: false, lineStyle: { color: rule } },
          splitLine: { show: false },
        })),
        yAxis: kinds.map(({ id }, n) => ({
          type: 'value',
          gridIndex: n,
          // From nothing, but for ratios, which begin at one; and never so close that the noise of measuring fills the row.
          min: id === 'blocks' ? 1 : 0,
          max: Math.max(id === 'blocks' ? 1.5 : 1, ...traces.values[id].map((v) => v ?? 0)),
          show: false,
        })),
        series: kinds.map(({ id }, n) => ({
          type: 'line',
          xAxisIndex: n,
          yAxisIndex: n,
          data: withGaps(traces.frames, traces.values[id]),
          showSymbol: false,
          silent: true,
          sampling: 'lttb',
          lineStyle: { color: ink, width: 1 },
        })),
      },
      { notMerge: true },
    );
  }, [traces, kinds, width, height, frames, theme]);
  return <div ref={element} className="absolute inset-0" aria-hidden />;
}
