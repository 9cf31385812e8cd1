import { useState } from 'react';
import type { JobOptions } from '../../../shared/jobs';
import {
  FIRST_PRINT,
  layOutPrint,
  type Paper,
  PAPER_NAMES,
  PAPERS,
  PRINT_LIMITS,
  printAdvice,
  type PrintOptions,
} from '../../../shared/print';

/** Millimetres of the units a print's size is told in. */
const UNITS = { cm: 10, inches: 25.4 } as const;
type Unit = keyof typeof UNITS;

interface PrintProps {
  print: PrintOptions | undefined;
  picture: { width: number; height: number };
  set(part: Partial<JobOptions>): void;
}

/** A still as a print: its size, how the picture lies in it, the paper, and whether its pixels suffice. */
export function PrintFields({ print, picture, set }: PrintProps) {
  const [unit, setUnit] = useState<Unit>('cm');
  return (
    <>
      <label className="flex min-h-[26px] items-center gap-2">
        <input
          type="checkbox"
          className="h-4 w-4 accent-[var(--act)]"
          checked={print !== undefined}
          onChange={(e) => set({ print: e.target.checked ? FIRST_PRINT : undefined })}
        />
        Print on paper, PDF
      </label>
      {print && (
        <div className="pl-[24px]">
          <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
            <Measure name="Width" value={print.width} unit={unit} set={(width) => set({ print: { ...print, width } })} />
            <span aria-hidden>×</span>
            <Measure name="Height" value={print.height} unit={unit} set={(height) => set({ print: { ...print, height } })} />
            <select className="field" aria-label="Unit" value={unit} onChange={(e) => setUnit(e.target.value as Unit)}>
              {Object.keys(UNITS).map((name) => (
                <option key={name}>{name}</option>
              ))}
            </select>
            <select
              className="field"
              aria-label="Usual sizes"
              value=""
              onChange={(e) => {
                const [width, height] = PAPERS[e.target.value as Paper];
                set({ print: { ...print, width, height } });
              }}
            >
              <option value="" disabled>
                usual sizes
              </option>
              {PAPER_NAMES.map((name) => (
                <option key={name}>{name}</option>
              ))}
            </select>
          </div>
          <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2">
            <label className="flex items-center gap-2">
              Picture
              <select
                className="field"
                value={print.fit}
                onChange={(e) => set({ print: { ...print, fit: e.target.value as PrintOptions['fit'] } })}
              >
                <option value="whole">whole, white round it</option>
                <option value="fill">fills the print, edges cut</option>
              </select>
            </label>
            {print.fit === 'fill' && (
              <label className="flex items-center gap-2">
                Bleed
                <input
                  type="number"
                  className="field w-[56px]"
                  min={0}
                  max={PRINT_LIMITS.bleed}
                  value={print.bleed}
                  onChange={(e) => set({ print: { ...print, bleed: Number(e.target.value) } })}
                />
                mm
              </label>
            )}
            <label className="flex items-center gap-2">
              Paper
              <select
                className="field"
                value={print.paper ?? ''}
                onChange={(e) => set({ print: { ...print, paper: (e.target.value || undefined) as Paper | undefined } })}
              >
                <option value="">as large as the print</option>
                {PAPER_NAMES.map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </select>
            </label>
          </div>
          <Resolution picture={picture} print={print} />
        </div>
      )}
    </>
  );
}

/** Why a print cannot be; nothing where it can. */
export function printProblem(picture: PrintProps['picture'], print: PrintOptions | undefined): string {
  try {
    if (print) layOutPrint(picture, print);
    return '';
  } catch (error) {
    return (error as Error).message;
  }
}

function Resolution({ picture, print }: { picture: PrintProps['picture']; print: PrintOptions }) {
  if (printProblem(picture, print)) return null;
  const layout = layOutPrint(picture, print);
  const advice = printAdvice(layout);
  return (
    <p className={`mt-1 ${advice ? 'text-warn' : 'text-ink2'}`}>
      {advice ?? `${Math.floor(layout.resolution)} pixels an inch: sharp in the hand.`}
    </p>
  );
}

/** A length, told in the unit that was chosen and kept in millimetres. */
function Measure({ name, value, unit, set }: { name: string; value: number; unit: Unit; set: (mm: number) => void }) {
  const { smallest, largest } = PRINT_LIMITS;
  return (
    <input
      type="number"
      aria-label={`${name} of the print`}
      className="field w-[72px]"
      step="any"
      min={smallest / UNITS[unit]}
      max={largest / UNITS[unit]}
      value={Math.round((100 * value) / UNITS[unit]) / 100}
      onChange={(e) => {
        const mm = Number(e.target.value) * UNITS[unit];
        if (mm >= smallest && mm <= largest) set(mm);
      }}
    />
  );
}
