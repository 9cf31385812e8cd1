import type { ReactNode } from 'react';

/** A place with nothing in it yet: what would be here, and the next action. */
export function Empty({ title, action, children }: { title: string; action?: ReactNode; children: ReactNode }) {
  return (
    <div className="max-w-[46em] pt-16 pl-8">
      <p className="serif mb-2 text-[18px]">{title}</p>
      <p className="mb-4 text-ink2">{children}</p>
      {action}
    </div>
  );
}

/** What went wrong when a place was read, in words. */
export function Trouble({ error }: { error: Error | null }) {
  return (
    error && (
      <p role="alert" className="text-warn">
        {error.message}
      </p>
    )
  );
}
