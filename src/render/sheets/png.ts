import sharp from 'sharp';
import { runsOf } from './fonts';
import { INK, MM_PER_INCH, type Page, type PlacedText, QUIET } from './page';

/** A page as a PNG. Text is drawn from the typeface's own outlines, so that it looks the same on every machine. */
export async function toPng(page: Page, ppi: number): Promise<Buffer> {
  const px = (mm: number): number => (mm / MM_PER_INCH) * ppi;
  const width = Math.round(px(page.width)),
    height = Math.round(px(page.height));
  const pictures = await Promise.all(
    page.pictures.map(async ({ file, x, y, width: w, height: h, clip }) => {
      const left = Math.round(px(x)),
        top = Math.round(px(y));
      const resized = sharp(file).resize(Math.max(1, Math.round(px(w))), Math.max(1, Math.round(px(h))), { fit: 'fill' });
      if (!clip) return { input: await resized.png().toBuffer(), left, top };
      const seen = { left: Math.max(0, Math.round(px(clip.x)) - left), top: Math.max(0, Math.round(px(clip.y)) - top) };
      const size = {
        width: Math.min(Math.round(px(clip.width)), Math.round(px(w)) - seen.left),
        height: Math.min(Math.round(px(clip.height)), Math.round(px(h)) - seen.top),
      };
      const input = await sharp(await resized.png().toBuffer())
        .extract({ ...seen, ...size })
        .png()
        .toBuffer();
      return { input, left: left + seen.left, top: top + seen.top };
    }),
  );
  const drawn = [
    ...page.lines.map(
      ({ from, to, width: w, quiet }) =>
        `<path d="M${px(from[0])} ${px(from[1])}L${px(to[0])} ${px(to[1])}" stroke="${quiet ? QUIET : INK}" stroke-width="${px(w)}"/>`,
    ),
    ...page.texts.map((text) => outlines(text, px)),
  ];
  const svg = Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}">${drawn.join('')}</svg>`);
  return sharp({ create: { width, height, channels: 3, background: 'white' } })
    .composite([...pictures, { input: svg, left: 0, top: 0 }])
    .withDensity(ppi)
    .png()
    .toBuffer();
}

/** A line of text as the outlines of its letters. */
function outlines({ text, x, y, size, strong, quiet }: PlacedText, px: (mm: number) => number): string {
  let at = x;
  const letters: string[] = [];
  for (const { face, text: part } of runsOf(text, strong)) {
    const { glyphs, positions } = face.font.layout(part);
    const scale = size / face.font.unitsPerEm;
    glyphs.forEach((glyph, n) => {
      const { xOffset, yOffset, xAdvance } = positions[n];
      const place = `translate(${px(at + xOffset * scale)} ${px(y - yOffset * scale)}) scale(${px(scale)} ${-px(scale)})`;
      letters.push(`<path transform="${place}" d="${glyph.path.toSVG()}"/>`);
      at += xAdvance * scale;
    });
  }
  return `<g fill="${quiet ? QUIET : INK}">${letters.join('')}</g>`;
}
