import sharp from 'sharp';
import { each, ground } from './carriers';
import type { Raster } from './raster';

const WIDTH = 1360,
  HEIGHT = 1560,
  MARGIN = 90;

const HEAD = 'New boat takes the water';
const CAPTION =
  'The yard’s people before the launching on Saturday. Mr E. Marrow, seated in the middle, has built boats at the quay since 1919.';
const STORY = `A crowd of some two hundred watched from the quay on Saturday as the largest boat yet built at the Marrow yard went down the slip at high water. The weather held, and the village band played until the rain came in at four. Mrs Marrow broke the bottle at the second attempt. The boat, which is to carry stone and timber along the coast, took fourteen months to build, for oak was hard to come by last winter. Eleven people work at the yard, among them the builder’s daughter, who keeps the drawings, and his son Harold, who is to skipper her on the first voyage. Tea was served in the sail loft, where the children were shown how a rope is spliced. A second keel, for a smaller boat, will be laid before the autumn gales. Those who have photographs of the day are asked to lend them to the reading room.`;

/** Lines of at most `length` letters. */
function lines(text: string, length: number): string[] {
  const out = [''];
  for (const word of text.split(' ')) {
    const last = out[out.length - 1];
    if (last && last.length + word.length + 1 > length) out.push(word);
    else out[out.length - 1] = last ? `${last} ${word}` : word;
  }
  return out;
}

/** A cutting with a headline, a picture of 1180 px width, its caption and two columns of text. */
export async function newspaper(picture: Raster): Promise<Raster> {
  const top = 176,
    below = top + picture.height;
  const text = (x: number, y: number, size: number, line: string, more = ''): string =>
    `<text x="${x}" y="${y}" font-size="${size}" ${more}>${line}</text>`;
  const column = lines(STORY, 48);
  const half = Math.ceil(column.length / 2);
  const columnWidth = (WIDTH - 2 * MARGIN - 50) / 2;
  const rows = (part: string[], x: number): string =>
    part
      .map((line, i) =>
        text(x, below + 150 + i * 33, 23, line, i + 1 < part.length ? `textLength="${columnWidth}" lengthAdjust="spacing"` : ''),
      )
      .join('');
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}"><g font-family="DejaVu Serif" fill="black">
${text(MARGIN, 128, 74, HEAD, 'font-weight="bold"')}
${lines(CAPTION, 84)
  .map((line, i) => text(MARGIN, below + 42 + i * 32, 24, line, 'font-style="italic"'))
  .join('')}
${rows(column.slice(0, half), MARGIN)}${rows(column.slice(half), MARGIN + columnWidth + 50)}
<rect x="${MARGIN + columnWidth + 24}" y="${below + 124}" width="1.5" height="${HEIGHT}"/></g></svg>`;
  const ink = await sharp(Buffer.from(svg)).ensureAlpha().extractChannel(3).raw().toBuffer();
  const page = ground(WIDTH, HEIGHT, 602, [216, 204, 172], 0.03, [3, 3]);
  each(page, (o, x, y) => {
    const px = x - MARGIN,
      py = y - top;
    if (px >= 0 && py >= 0 && px < picture.width && py < picture.height) {
      const from = (py * picture.width + px) * 4;
      for (let c = 0; c < 3; c++) page.data[o + c] = picture.data[from + c];
    }
    const black = (ink[o / 4] / 255) * 0.86;
    for (let c = 0; c < 3; c++) page.data[o + c] *= 1 - black * (1 - 44 / 216);
  });
  return page;
}
