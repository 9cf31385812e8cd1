'use client';

import { useId, useState } from 'react';
import { PALETTES } from '../../../shared/palettes';
import { colourOf, colourParts } from '../../../shared/settings';
import { FromPicture } from './fromPicture';

/** A colour of a setting as six digits, which browsers know. */
export const cssColour = (colour: string): string =>
  `#${colourParts(colour)
    .map((v) =>
      Math.round(v / 257)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;

/** A colour of six digits as a setting holds it. */
export const settingColour = (css: string): string => colourOf([1, 3, 5].map((from) => 257 * parseInt(css.slice(from, from + 2), 16)));

interface ColourChoice {
  value: string;
  onChange: (colour: string) => void;
}

/** A colour with its codes, mixed by the browser's own means. */
export function ColourWell({ id, value, onChange }: ColourChoice & { id: string }) {
  return (
    <>
      <label htmlFor={id} className="text-ink2">
        Colour
      </label>
      <span className="flex items-center gap-2">
        <input
          id={id}
          type="color"
          className="h-[24px] w-[44px] cursor-pointer border border-[var(--rule-2)] bg-transparent p-0"
          value={cssColour(value)}
          onChange={(e) => onChange(settingColour(e.target.value))}
        />
        <span className="text-ink2 tabular-nums">
          {colourParts(value)
            .map((v) => Math.round(v / 257))
            .join(' ')}
        </span>
      </span>
    </>
  );
}

/** Which colour is marked with: mixed, of a palette, or taken from a picture of the collection. */
export function HintColour({
  value,
  onChange,
  first = PALETTES[0].id,
}: ColourChoice & { /** Palette that is shown at first. */ first?: string }) {
  const id = useId();
  const [shown, setShown] = useState(first);
  const palette = PALETTES.find((p) => p.id === shown) ?? PALETTES[0];
  const css = cssColour(value);
  return (
    <div className="mt-1 grid grid-cols-[66px_1fr] items-center gap-x-2 gap-y-[3px]" role="group" aria-label="Colour of marks">
      <ColourWell id={`${id}-own`} value={value} onChange={onChange} />
      <label htmlFor={`${id}-palette`} className="text-ink2">
        Palette
      </label>
      <select
        id={`${id}-palette`}
        className="field min-w-0"
        value={shown}
        title={palette.source}
        onChange={(e) => setShown(e.target.value)}
      >
        {PALETTES.map((p) => (
          <option key={p.id} value={p.id}>
            {p.name}
          </option>
        ))}
      </select>
      <span className="col-start-2 flex flex-wrap gap-[3px]" role="group" aria-label={palette.name}>
        {palette.colours.map((colour) => (
          <button
            key={colour.name}
            type="button"
            className={`h-[24px] w-[24px] border ${colour.value === css ? 'border-2 border-ink' : 'border-[var(--rule-2)]'}`}
            style={{ background: colour.value }}
            title={colour.name}
            aria-label={colour.name}
            aria-pressed={colour.value === css}
            onClick={() => onChange(settingColour(colour.value))}
          />
        ))}
      </span>
      <FromPicture onTake={onChange} />
    </div>
  );
}
