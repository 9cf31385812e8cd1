import { writeFile } from 'node:fs/promises';
import { type Item, measuredStream, type Job } from '../archive';
import { whatIsDone } from '../core';
import { smallPicture, smallStill, type SmallPicture } from '../media';
import { layOutPrint, type PrintOptions, printAdvice, sizeText } from '../shared/print';
import { beforeAfterSheet } from './sheets/beforeAfter';
import { type Page, SHEET_PPI } from './sheets/page';
import { toPdf } from './sheets/pdf';
import { toPng } from './sheets/png';
import { printPage } from './sheets/print';

/** Papers that go with a still: a sheet that shows it before and after, and the print itself. */

/** Longest side of a picture on a sheet: 300 pixels an inch on half a page. */
const SHEET_SIDE = 1600;
/** Longest side of a print's picture: more than any printer sets on such paper. */
const PRINT_SIDE = 20_000;

interface PaperFiles {
  pdf: string;
  png: string;
}

/** Writes the sheet that shows an item before and after, as PDF and PNG. @param result the treated picture's file. */
export async function writeBeforeAfter(item: Item, job: Job, files: { source: string; result: string }, to: PaperFiles): Promise<void> {
  const before = await asItCame(item, files.source);
  const after = await smallPicture(files.result, SHEET_SIDE);
  const { about } = item;
  const page = beforeAfterSheet({
    title: about.title || item.name,
    about,
    before,
    after,
    done: whatIsDone(job.plan, measuredStream(item)),
    foot: [`Plan version ${job.planVersion}, ${job.created.slice(0, 10)}. The original is kept as it came.`, about.rights]
      .filter(Boolean)
      .join(' '),
  });
  await writeSheet([page], about.title || item.name, to);
}

const asItCame = (item: Item, source: string): Promise<SmallPicture> => smallStill(source, item.facts, SHEET_SIDE);

async function writeSheet(pages: Page[], title: string, to: PaperFiles): Promise<void> {
  await writeFile(to.pdf, await toPdf(pages, { title }), { flag: 'wx' });
  await writeFile(to.png, await toPng(pages[0], SHEET_PPI), { flag: 'wx' });
}

/**
 * Writes a print as PDF, with its trim and bleed boxes.
 * @param result the treated picture's file, of the size it was rendered to.
 * @returns what is to be said of it.
 */
export async function writePrint(title: string, result: string, print: PrintOptions, to: string): Promise<string> {
  const picture = await smallPicture(result, PRINT_SIDE);
  const layout = layOutPrint(picture, print);
  const { trim, bleed } = layout;
  const pdf = await toPdf([printPage(layout, picture.file)], { title, trim: { ...trim, bleed } });
  await writeFile(to, pdf, { flag: 'wx' });
  const size = `${sizeText(trim)}${bleed ? ` and ${bleed} mm of bleed` : ''}${print.paper ? ` on ${print.paper}` : ''}`;
  return `${size}, ${Math.floor(layout.resolution)} pixels an inch${printAdvice(layout) ? ': soft' : ''}`;
}
