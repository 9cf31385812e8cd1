import type { CSSProperties } from 'react';
import { useBench } from '../state/store';

/** Says which picture is which, at its edge. `left` and `right` name the source's side and the result's. */
export function SideNames({ left, right, holding }: { left: string; right: string; holding: boolean }) {
  const mode = useBench((s) => s.mode);
  const split = useBench((s) => s.split);
  const way = useBench((s) => s.way);
  const names: { text: string; at: CSSProperties }[] = [];
  if (mode === 'difference' && !holding) names.push({ text: `difference of ${left} and ${right}`, at: { left: 0, top: 0 } });
  else if (holding || mode === 'single' || mode === 'flicker') names.push({ text: holding ? left : right, at: { left: 0, top: 0 } });
  else if (mode === 'pair') names.push({ text: left, at: { left: 0, top: 0 } }, { text: right, at: { left: 'calc(50% + 2px)', top: 0 } });
  else if (way === 'level')
    names.push(
      { text: left, at: { left: 0, bottom: `calc(${100 - split * 100}% + 3px)` } },
      { text: right, at: { left: 0, top: `calc(${split * 100}% + 3px)` } },
    );
  else
    names.push(
      { text: left, at: { right: `calc(${100 - split * 100}% + 3px)`, top: 0 } },
      { text: right, at: { left: `calc(${split * 100}% + 3px)`, top: 0 } },
    );
  return names.map(({ text, at }) => (
    <span
      key={text}
      className="pointer-events-none absolute max-w-[40%] truncate bg-[#3c3c3c] px-1.5 text-[12px] leading-[18px] text-white"
      style={at}
    >
      {text}
    </span>
  ));
}
