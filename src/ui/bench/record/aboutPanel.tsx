'use client';

import { useId, useState } from 'react';
import { toast } from 'sonner';
import { ABOUT_LIMITS, type About, toldDate } from '../../../shared/about';
import type { AboutRequest } from '../../../shared/requests';
import { api } from '../../parts/api';
import { useBench, useBenchStore } from '../state/store';
import { InPicture } from './inPicture';

/** What people tell of the item: kept as it is written, and written into what is handed over. */
export function AboutPanel() {
  const item = useBench((s) => s.item);
  const bench = useBenchStore();
  const tell = async (told: AboutRequest): Promise<void> => {
    bench.setState({ item: { ...item, about: { ...item.about, ...told } } });
    try {
      await api(`items/${item.id}/about`, { method: 'PATCH', json: told });
    } catch (error) {
      toast.error(`Not kept: ${(error as Error).message}`);
    }
  };
  const { about } = item;
  return (
    <div className="grid gap-[10px] px-[14px] py-3" key={item.id}>
      <Line name="Title" value={about.title} tell={(title) => tell({ title })} />
      <Line
        key={about.people.join('\n')}
        name="People"
        hint="One name a line, from the left."
        value={about.people.join('\n')}
        rows={3}
        tell={(text) => tell({ people: names(text) })}
      />
      <InPicture take={(found) => void tell({ people: [...new Set([...about.people, ...found])].slice(0, ABOUT_LIMITS.people) })} />
      <Line name="Date" hint={dateHint(about.date)} value={about.date} tell={(date) => tell({ date })} />
      <Line name="Place" value={about.place} tell={(place) => tell({ place })} />
      <Line name="Rights" value={about.rights} tell={(rights) => tell({ rights })} />
      <Line name="What is known" value={about.caption} rows={4} longest={ABOUT_LIMITS.caption} tell={(caption) => tell({ caption })} />
      <p className="text-ink2">Written into master and access copy, with what was done. What the source’s own metadata says is kept.</p>
    </div>
  );
}

const names = (text: string): About['people'] =>
  text
    .split(/[\n;]/)
    .map((name) => name.trim())
    .filter(Boolean)
    .slice(0, ABOUT_LIMITS.people);

/** What becomes of a date in words. */
function dateHint(date: string): string {
  const told = toldDate(date);
  if (!date) return '1921, 1921-07-14 or “about 1921”.';
  if (!told) return 'No single year is told: written in words only.';
  return told.exact ? '' : `Written in words, and as the year ${told.year}.`;
}

interface LineProps {
  name: string;
  value: string;
  /** Rows of what takes more than one line. */
  rows?: number;
  longest?: number;
  hint?: string;
  tell(value: string): Promise<void>;
}

/** One field, kept when it is left. */
function Line({ name, value, rows, longest = ABOUT_LIMITS.line, hint, tell }: LineProps) {
  const [text, setText] = useState(value);
  const id = useId();
  const field = {
    id,
    className: 'field w-full',
    value: text,
    maxLength: longest * (rows ?? 1),
    'aria-describedby': hint ? `${id}-hint` : undefined,
    onBlur: () => {
      if (text.trim() !== value) void tell(text.trim());
    },
  };
  return (
    <div>
      <label htmlFor={id} className="mb-[2px] block text-ink2">
        {name}
      </label>
      {rows ? (
        <textarea {...field} className="field h-auto w-full py-1" rows={rows} onChange={(e) => setText(e.target.value)} />
      ) : (
        <input {...field} onChange={(e) => setText(e.target.value)} />
      )}
      {hint && (
        <p id={`${id}-hint`} className="text-ink2">
          {hint}
        </p>
      )}
    </div>
  );
}
