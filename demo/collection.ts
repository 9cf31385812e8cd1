import path from 'node:path';

/** What the demo's collection is called, and what is told of it. */
export const COLLECTION = {
  name: 'Pellow Quay',
  note: 'A made-up village and its boatbuilders, the Marrows: prints, films, tapes and a disc, 1921 to 2004',
  due: '2027-03-31',
};

export const MEDIA = path.join(import.meta.dirname, 'media');

/** When pictures were taken whose names do not say it; of the others the year in the name. */
const DATES: Record<string, string> = {
  'Portrait of a child.tif': 'about 1932',
  'Cutting, launching day.jpg': '1948',
  'Photo of a photo.jpg': '1921',
  'Slide 14, the harbour.jpg': 'about 1970',
};

/** When the pictures of a file were taken, empty where nobody knows. */
export const dateOf = (file: string): string => DATES[file] ?? /\b(?:19|20)\d\d\b/.exec(file)?.[0] ?? '';
