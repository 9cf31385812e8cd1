'use client';

import { useRef, useState, type ChangeEvent } from 'react';
import { errorText } from '../parts/api';
import { Sheet } from '../parts/ask';
import { bytes } from '../parts/format';
import { useUploads } from './uploads';
import type { TakeInRequest } from '../../shared/requests';

/** Buttons that bring files in: chosen files, a chosen folder, a folder of the server's machine. */
export function IntakeButtons({ collectionId, onDone }: { collectionId: string; onDone: () => void }) {
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const [asking, setAsking] = useState(false);
  const add = useUploads((s) => s.add);
  const chosen = (event: ChangeEvent<HTMLInputElement>): void => {
    add(
      [...(event.target.files ?? [])].filter((f) => !f.name.startsWith('.')),
      collectionId,
      onDone,
    );
    event.target.value = '';
  };
  return (
    <div className="flex gap-2">
      <input ref={files} type="file" multiple hidden onChange={chosen} data-testid="choose-files" />
      <input ref={folder} type="file" multiple hidden onChange={chosen} {...{ webkitdirectory: '' }} data-testid="choose-folder" />
      <button type="button" className="btn btn-act" onClick={() => files.current?.click()}>
        Choose files…
      </button>
      <button type="button" className="btn" onClick={() => folder.current?.click()}>
        Choose a folder…
      </button>
      <button type="button" className="btn" onClick={() => setAsking(true)}>
        From this machine…
      </button>
      <Sheet title="Take in from this machine" open={asking} onOpenChange={setAsking}>
        <FromMachine collectionId={collectionId} onDone={onDone} close={() => setAsking(false)} />
      </Sheet>
    </div>
  );
}

function FromMachine({ collectionId, onDone, close }: { collectionId: string; onDone: () => void; close: () => void }) {
  const [path, setPath] = useState('');
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);
  const report = useUploads((s) => s.report);
  const start = async (): Promise<void> => {
    setBusy(true);
    setProblem('');
    const response = await fetch(`/api/collections/${collectionId}/takein`, {
      method: 'POST',
      body: JSON.stringify({ path } satisfies TakeInRequest),
      headers: { 'content-type': 'application/json' },
    });
    if (!response.ok || !response.body) {
      setProblem(await errorText(response));
      setBusy(false);
      return;
    }
    close();
    const reader = response.body.pipeThrough(new TextDecoderStream()).getReader();
    let text = '';
    for (;;) {
      const { done, value } = await reader.read();
      if (done) break;
      const lines = (text + value).split('\n');
      text = lines.pop() ?? '';
      for (const line of lines) {
        const told = JSON.parse(line) as {
          files?: number;
          ok?: boolean;
          items?: { source: { fileName: string } }[];
          fileName?: string;
          message?: string;
        };
        if (told.files === undefined) report(told.items?.[0].source.fileName ?? told.fileName ?? '', told.ok === true, told.message ?? '');
        onDone();
      }
    }
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        void start();
      }}
    >
      <p className="mb-3 text-ink2">
        A folder, or one file, on the machine the server runs on. It is copied straight into the archive, not through the browser; what is
        there stays untouched.
      </p>
      <label htmlFor="path" className="mb-1 block">
        Folder or file
      </label>
      <input
        id="path"
        className="field w-full"
        value={path}
        onChange={(e) => setPath(e.target.value)}
        placeholder="/srv/scans/family"
        autoFocus
      />
      {problem && (
        <p role="alert" className="mt-2 text-warn">
          {problem}
        </p>
      )}
      <div className="mt-4 flex justify-end gap-2">
        <button type="button" className="btn" onClick={close}>
          Cancel
        </button>
        <button type="submit" className="btn btn-act" disabled={busy || !path}>
          Take in
        </button>
      </div>
    </form>
  );
}

/** What is on its way in, and what became of it. */
export function UploadList() {
  const { list, clear } = useUploads();
  if (list.length === 0) return null;
  const refused = list.filter((u) => u.state === 'refused' || u.state === 'broken off').length;
  return (
    <section aria-label="Intake" className="mb-4 border bg-sheet">
      <div className="flex items-baseline gap-3 border-b px-3 py-1.5">
        <h2 className="text-[13px]">Intake</h2>
        <span className="text-ink2">
          {list.filter((u) => u.state === 'taken in').length} of {list.length} taken in{refused > 0 && `, ${refused} not`}
        </span>
        <span className="flex-1" />
        <button type="button" className="quiet" onClick={clear}>
          Clear
        </button>
      </div>
      <ul className="max-h-48 overflow-auto" tabIndex={0} aria-label="Files">
        {list.map((u) => (
          <li
            key={u.id}
            className="grid grid-cols-[minmax(180px,1fr)_90px_140px_2fr] items-center gap-3 border-b px-3 py-1 last:border-b-0"
          >
            <span className="truncate">{u.name}</span>
            <span className="num text-ink2">{u.size ? bytes(u.size) : ''}</span>
            {u.state === 'sending' ? (
              <span
                className="block h-1 bg-rule"
                role="progressbar"
                aria-label={u.name}
                aria-valuenow={Math.round((100 * u.sent) / u.size)}
              >
                <span className="block h-1 bg-act" style={{ width: `${(100 * u.sent) / u.size}%` }} />
              </span>
            ) : (
              <span className={u.state === 'refused' || u.state === 'broken off' ? 'font-semibold text-warn' : 'text-ink2'}>{u.state}</span>
            )}
            <span className="text-ink2">{u.message}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
