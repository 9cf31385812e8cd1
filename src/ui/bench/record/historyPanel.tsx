'use client';

import { useState } from 'react';
import { moment } from '../../parts/format';
import { versionAt, type Version } from '../state/history';
import { goToVersion, renameVersion } from '../state/historyActions';
import { useBench, useBenchStore } from '../state/store';

/** Every version of the plan, the newest first: what was changed and when; to name, to look at, to go back to. */
export function HistoryPanel() {
  const history = useBench((s) => s.history);
  return (
    <ol aria-label="Versions of the plan">
      {history.versions.toReversed().map((version) => (
        <VersionRow key={version.key} version={version} present={version.key === history.at} />
      ))}
    </ol>
  );
}

function VersionRow({ version, present }: { version: Version; present: boolean }) {
  const bench = useBenchStore();
  const looked = useBench((s) => s.against === version.key);
  const parent = useBench((s) => versionAt(s.history, version.parent));
  const previous = useBench((s) => s.history.versions[s.history.versions.indexOf(version) - 1]);
  const branched = parent !== undefined && parent !== previous;
  const [naming, setNaming] = useState<string>();
  const rename = (): void => {
    if (naming !== undefined && naming.trim() !== version.name) renameVersion(bench, version.key, naming.trim());
    setNaming(undefined);
  };
  return (
    <li className={`border-b px-[14px] py-[6px] ${present ? 'bg-sheet' : ''}`} data-testid="version" aria-current={present || undefined}>
      <div className="flex items-baseline justify-between gap-2">
        <span className={`min-w-0 truncate ${present ? 'font-semibold' : ''}`} title={version.change}>
          {version.name || version.change}
        </span>
        <span className="shrink-0 text-ink2 tabular-nums">{version.number ?? '…'}</span>
      </div>
      <div className="truncate text-ink2 tabular-nums">
        {moment(version.created)}
        {branched && ` · from ${parent.number}`}
        {version.name && ` · ${version.change}`}
        {present && ' · present'}
      </div>
      {naming === undefined ? (
        <div className="flex gap-3">
          {!present && (
            <button type="button" className="quiet" onClick={() => goToVersion(bench, version.key)}>
              restore
            </button>
          )}
          {!present && (
            <button
              type="button"
              className="quiet"
              aria-pressed={looked}
              onClick={() => bench.setState({ against: looked ? undefined : version.key })}
            >
              {looked ? 'compare with the source' : 'compare'}
            </button>
          )}
          <button type="button" className="quiet" onClick={() => setNaming(version.name)}>
            {version.name ? 'rename' : 'name'}
          </button>
        </div>
      ) : (
        <input
          className="field mt-0.5 w-full"
          aria-label={`Name of version ${version.number ?? ''}`}
          maxLength={80}
          value={naming}
          autoFocus
          onChange={(e) => setNaming(e.target.value)}
          onBlur={rename}
          onKeyDown={(e) => {
            if (e.key === 'Enter') rename();
            if (e.key === 'Escape') setNaming(undefined);
          }}
        />
      )}
    </li>
  );
}
