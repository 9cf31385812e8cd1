import * as tus from 'tus-js-client';
import { create } from 'zustand';

/** One file on its way in. */
export interface Upload {
  id: number;
  name: string;
  size: number;
  sent: number;
  state: 'waiting' | 'checking' | 'sending' | 'taken in' | 'refused' | 'broken off';
  message: string;
}

interface Uploads {
  list: Upload[];
  add(files: File[], collectionId: string, done: () => void): void;
  report(name: string, ok: boolean, message: string): void;
  clear(): void;
}

/** Files sent at a time. */
const MAX_UPLOADS = 2;
/** Sent in pieces, so that no request lasts longer than servers allow. */
const PIECE_BYTES = 16 * 2 ** 20;
/** Checksums are made in the browser up to this size; beyond, the server's own stands alone. */
const CHECKED = 256 * 2 ** 20;

let nextId = 1;

export const useUploads = create<Uploads>((set) => {
  const waiting: { id: number; file: File; collectionId: string; done: () => void }[] = [];
  let running = 0;
  const change = (id: number, part: Partial<Upload>): void =>
    set((s) => ({ list: s.list.map((u) => (u.id === id ? { ...u, ...part } : u)) }));
  const next = (): void => {
    while (running < MAX_UPLOADS && waiting.length) {
      const entry = waiting.shift() as (typeof waiting)[number];
      running++;
      void send(entry.file, entry.collectionId, (part) => change(entry.id, part)).finally(() => {
        running--;
        entry.done();
        next();
      });
    }
  };
  return {
    list: [],
    add(files, collectionId, done) {
      const added = files.map((file) => ({ id: nextId++, file }));
      set((s) => ({
        list: [
          ...s.list,
          ...added.map(({ id, file }): Upload => ({ id, name: file.name, size: file.size, sent: 0, state: 'waiting', message: '' })),
        ],
      }));
      waiting.push(...added.map(({ id, file }) => ({ id, file, collectionId, done })));
      next();
    },
    report: (name, ok, message) =>
      set((s) => ({ list: [...s.list, { id: nextId++, name, size: 0, sent: 0, state: ok ? 'taken in' : 'refused', message }] })),
    clear: () => set((s) => ({ list: s.list.filter((u) => !['taken in', 'refused', 'broken off'].includes(u.state)) })),
  };
});

async function send(file: File, collectionId: string, change: (part: Partial<Upload>) => void): Promise<void> {
  if (file.size === 0) return change({ state: 'refused', message: 'The file is empty.' });
  change({ state: 'checking' });
  const sha256 = file.size <= CHECKED ? await checksum(file).catch(() => undefined) : undefined;
  await new Promise<void>((resolve) => {
    const upload = new tus.Upload(file, {
      endpoint: '/api/uploads',
      chunkSize: PIECE_BYTES,
      retryDelays: [0, 1000, 3000, 5000, 10000],
      removeFingerprintOnSuccess: true,
      metadata: { filename: file.name, collection: collectionId, ...(sha256 && { sha256 }) },
      fingerprint: () => Promise.resolve(`wairetic-${collectionId}-${file.name}-${file.size}-${file.lastModified}`),
      onProgress: (sent) => change({ state: 'sending', sent }),
      onSuccess: () => {
        change({ state: 'taken in', sent: file.size });
        resolve();
      },
      onShouldRetry: (error) => {
        const status = error.originalResponse?.getStatus() ?? 0;
        return status === 0 || status === 409 || status === 423 || status >= 500;
      },
      onError: (error) => {
        const answer = 'originalResponse' in error ? error.originalResponse : null;
        const refused = answer?.getStatus() === 422 || answer?.getStatus() === 404;
        change(
          refused
            ? { state: 'refused', message: answer?.getBody() ?? '' }
            : { state: 'broken off', message: 'The connection broke. Choose the file again: it goes on where it stopped.' },
        );
        resolve();
      },
    });
    void upload.findPreviousUploads().then((previous) => {
      if (previous.length) upload.resumeFromPreviousUpload(previous[0]);
      upload.start();
    });
  });
}

async function checksum(file: File): Promise<string> {
  const digest = await crypto.subtle.digest('SHA-256', await file.arrayBuffer());
  return Array.from(new Uint8Array(digest), (b) => b.toString(16).padStart(2, '0')).join('');
}
