'use client';

import type { RefObject } from 'react';

/** What may be laid in from outside. */
const FILES = 'image/*,.tif,.tiff,.webp,.avif';

/** Asks for a picture's file when it is clicked by whoever holds its ref. */
export function PictureFile({ at, label, onFile }: { at: RefObject<HTMLInputElement | null>; label: string; onFile(file: File): void }) {
  return (
    <input
      ref={at}
      type="file"
      accept={FILES}
      className="hidden"
      aria-label={label}
      onChange={({ target }) => {
        const given = target.files?.[0];
        // A browser tells nothing when one file is chosen twice in a row, unless the field is emptied.
        target.value = '';
        if (given) onFile(given);
      }}
    />
  );
}
