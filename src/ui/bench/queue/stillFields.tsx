import { ACCESS_QUALITY, type JobOptions, type StillAccess, type StillSpace } from '../../../shared/jobs';
import { useBench } from '../state/store';
import { SizeTold } from './sizeTold';

interface FieldsProps {
  options: JobOptions;
  set(part: Partial<JobOptions>): void;
}

/** Fields below the tick they belong to. */
const ROW = 'mb-1 flex flex-wrap items-center gap-x-4 gap-y-1 pl-[24px]';

const KILOBYTE = 1000;
/** Kilobytes of an access copy whose size is bound, at first. */
const FIRST_BOUND = 2000;

/** How a still's master is written. */
export function MasterFields({ options, set }: FieldsProps) {
  const profile = useBench((s) => s.item.facts.profile?.name ?? 'sRGB');
  return (
    <div className={ROW}>
      <label className="flex items-center gap-2">
        as
        <select
          className="field"
          aria-label="Master as"
          value={options.stillMaster}
          onChange={(e) => set({ stillMaster: e.target.value as JobOptions['stillMaster'] })}
        >
          <option value="tiff">TIFF</option>
          <option value="png">PNG</option>
        </select>
      </label>
      <label className="flex items-center gap-2">
        Colours
        <select
          className="field max-w-[190px]"
          value={options.stillSpace ?? 'source'}
          onChange={(e) => set({ stillSpace: e.target.value as StillSpace })}
        >
          <option value="source">as the source: {profile}</option>
          {profile !== 'sRGB' && <option value="srgb">sRGB</option>}
          <option value="display-p3">Display P3</option>
          <option value="wide">wide RGB (BT.2020)</option>
        </select>
      </label>
      <label className="flex items-center gap-2">
        Pixels per inch
        <input
          type="number"
          className="field w-[72px]"
          min={36}
          max={2400}
          value={options.ppi}
          onChange={(e) => set({ ppi: Number(e.target.value) })}
        />
      </label>
    </div>
  );
}

/** How a still's access copy is written, and what it will take. */
export function AccessFields({ options, set }: FieldsProps) {
  const access = options.stillAccess ?? 'jpeg';
  const bound = options.accessUnder;
  const quality = options.accessQuality ?? ACCESS_QUALITY[access];
  return (
    <>
      <div className={ROW}>
        <label className="flex items-center gap-2">
          as
          <select
            className="field"
            aria-label="Access copy as"
            value={access}
            onChange={(e) => set({ stillAccess: e.target.value as StillAccess, accessQuality: undefined })}
          >
            <option value="jpeg">JPEG</option>
            <option value="webp">WebP</option>
            <option value="avif">AVIF</option>
          </select>
        </label>
        <label className="flex items-center gap-2">
          {bound === undefined ? 'Quality' : 'Quality up to'}
          <input
            type="number"
            className="field w-[56px]"
            min={1}
            max={100}
            value={quality}
            onChange={(e) => set({ accessQuality: Number(e.target.value) })}
          />
        </label>
        <span className="flex items-center gap-2">
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="h-4 w-4 accent-[var(--act)]"
              checked={bound !== undefined}
              onChange={(e) => set({ accessUnder: e.target.checked ? FIRST_BOUND * KILOBYTE : undefined })}
            />
            Stays under
          </label>
          <input
            type="number"
            aria-label="Kilobytes the access copy stays under"
            className="field w-[80px]"
            disabled={bound === undefined}
            min={20}
            max={1_000_000}
            step="any"
            value={(bound ?? FIRST_BOUND * KILOBYTE) / KILOBYTE}
            onChange={(e) => set({ accessUnder: Math.round(Number(e.target.value) * KILOBYTE) })}
          />
          kB
        </span>
      </div>
      <SizeTold kind={access} quality={quality} under={bound} />
    </>
  );
}
