'use client';

import { changeTint, useAppearance, type TintShown } from '../../parts/appearance';

const SHOWN: { value: TintShown; label: string }[] = [
  { value: 'tint', label: 'tint' },
  { value: 'mask', label: 'mask itself' },
  { value: 'none', label: 'outline' },
];

/** How masks are shown on the picture, on this machine. */
export function TintPanel() {
  const { tintShown, tintColour, tintStrength } = useAppearance((s) => s);
  return (
    <div className="mt-1 flex items-center gap-2 whitespace-nowrap">
      <label className="flex min-w-0 items-center gap-2">
        <span>Shown as</span>
        <select className="field min-w-0" value={tintShown} onChange={(e) => changeTint({ tintShown: e.target.value as TintShown })}>
          {SHOWN.map((s) => (
            <option key={s.value} value={s.value}>
              {s.label}
            </option>
          ))}
        </select>
      </label>
      {tintShown === 'tint' && (
        <>
          <input
            type="color"
            aria-label="Colour of the tint"
            className="h-[20px] w-[26px] border border-rule2 bg-transparent p-0"
            value={tintColour}
            onChange={(e) => changeTint({ tintColour: e.target.value })}
          />
          <input
            type="range"
            aria-label="Strength of the tint"
            className="w-[56px] min-w-0 accent-[var(--act)]"
            min={10}
            max={90}
            step={5}
            value={tintStrength}
            onChange={(e) => changeTint({ tintStrength: Number(e.target.value) })}
          />
        </>
      )}
    </div>
  );
}
