import PDFDocument from 'pdfkit';
import { runsOf } from './fonts';
import { INK, MM_PER_INCH, type Page, type PlacedText, POINTS_PER_INCH, QUIET } from './page';

const pt = (mm: number): number => (mm / MM_PER_INCH) * POINTS_PER_INCH;

export interface PdfOptions {
  title: string;
  /** Where the paper is cut and how far the picture goes beyond, millimetres; for prints. */
  trim?: { x: number; y: number; width: number; height: number; bleed: number };
}

/** Pages as a PDF, with text that can be selected. */
export async function toPdf(pages: Page[], { title, trim }: PdfOptions): Promise<Buffer> {
  const document = new PDFDocument({ autoFirstPage: false, info: { Title: title, Creator: 'Wairetic' } });
  const chunks: Buffer[] = [];
  const ended = new Promise<void>((resolve, reject) => document.on('end', resolve).on('error', reject));
  document.on('data', (chunk: Buffer) => chunks.push(chunk));
  for (const page of pages) {
    document.addPage({ size: [pt(page.width), pt(page.height)], margin: 0 });
    if (trim) {
      const box = (grown: number): number[] => [
        pt(trim.x - grown),
        pt(page.height - trim.y - trim.height - grown),
        pt(trim.x + trim.width + grown),
        pt(page.height - trim.y + grown),
      ];
      const { data } = document.page.dictionary as unknown as { data: Record<string, number[]> };
      data.TrimBox = box(0);
      data.BleedBox = box(trim.bleed);
    }
    for (const { file, x, y, width, height, clip } of page.pictures) {
      document.save();
      if (clip) document.rect(pt(clip.x), pt(clip.y), pt(clip.width), pt(clip.height)).clip();
      document.image(file, pt(x), pt(y), { width: pt(width), height: pt(height) });
      document.restore();
    }
    for (const { from, to, width, quiet } of page.lines)
      document
        .moveTo(pt(from[0]), pt(from[1]))
        .lineTo(pt(to[0]), pt(to[1]))
        .lineWidth(pt(width))
        .strokeColor(quiet ? QUIET : INK)
        .stroke();
    for (const text of page.texts) set(document, text);
  }
  document.end();
  await ended;
  return Buffer.concat(chunks);
}

function set(document: PDFKit.PDFDocument, { text, x, y, size, strong, quiet }: PlacedText): void {
  let at = x;
  for (const run of runsOf(text, strong)) {
    document
      .font(run.face.file)
      .fontSize(pt(size))
      .fillColor(quiet ? QUIET : INK)
      .text(run.text, pt(at), pt(y), { lineBreak: false, baseline: 'alphabetic' });
    at += run.width * size;
  }
}
