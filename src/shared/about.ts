/** What people tell of an item, beside what is measured. */
export interface About {
  title: string;
  /** Who is to be seen, a name each. */
  people: string[];
  /** When it was taken: `1921`, `1921-07`, `1921-07-14`, or in words, `about 1921`. */
  date: string;
  place: string;
  rights: string;
  /** What is to be seen, and what is known of it. */
  caption: string;
}

export const NOTHING_TOLD: About = { title: '', people: [], date: '', place: '', rights: '', caption: '' };

/** Bounds of what can be told, which metadata standards hold with room to spare. */
export const ABOUT_LIMITS = { line: 500, caption: 4000, people: 200 } as const;

const ISO_DATE = /^(\d{4})(?:-(0[1-9]|1[0-2])(?:-(0[1-9]|[12]\d|3[01]))?)?$/;

/**
 * The date as far as it is told for sure: year, with month and day where they are. Of words, the year in them.
 * @returns undefined where no year of four digits is told, or more than one.
 */
export function toldDate(date: string): { year: string; month?: string; day?: string; exact: boolean } | undefined {
  const iso = ISO_DATE.exec(date.trim());
  if (iso) return { year: iso[1], month: iso[2], day: iso[3], exact: true };
  const years = new Set(date.match(/(?<!\d)(1[5-9]|20)\d\d(?!\d)/g));
  return years.size === 1 ? { year: [...years][0], exact: false } : undefined;
}
