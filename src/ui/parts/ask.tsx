'use client';

import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';

/** A sheet laid over the page that asks for something. */
export function Sheet({
  title,
  open,
  onOpenChange,
  wide = false,
  children,
}: {
  title: string;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  /** Room for two columns. */
  wide?: boolean;
  children: ReactNode;
}) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-20 bg-black/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className={`fixed left-1/2 top-[10vh] z-30 max-h-[86vh] max-w-[94vw] -translate-x-1/2 overflow-y-auto border border-rule2 bg-paper p-5 text-ink ${wide ? 'w-[960px]' : 'w-[560px]'}`}
        >
          <Dialog.Title className="serif mb-3 text-[16px]">{title}</Dialog.Title>
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** The row at the foot of a sheet's form: back out, or do it. */
export function SheetButtons({
  cancel,
  submit,
  disabled = false,
  children,
}: {
  cancel: () => void;
  submit: string;
  disabled?: boolean;
  /** Stands at its left. */
  children?: ReactNode;
}) {
  return (
    <div className="mt-3 flex items-center justify-end gap-2">
      {children}
      <button type="button" className="btn" onClick={cancel}>
        Cancel
      </button>
      <button type="submit" className="btn btn-act" disabled={disabled}>
        {submit}
      </button>
    </div>
  );
}
