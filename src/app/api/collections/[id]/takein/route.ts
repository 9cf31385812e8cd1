import { stat } from 'node:fs/promises';
import path from 'node:path';
import { archive, filesOfFolder, findCollection, type IntakeResult, overlapsArchive, takeIn } from '../../../../../archive';
import { examineLater } from '../../../../../render';
import { TakeInBody } from '../../../../bodies';
import { handler, HttpError, linesOf, readBody } from '../../../../http';

/** Takes in a file or a folder of this machine; answers a line of JSON for each file as it is done. */
export const POST = handler<{ params: Promise<{ id: string }> }>(async (request, { params }) => {
  const { path: wanted } = await readBody(request, TakeInBody);
  const a = await archive();
  const collection = await findCollection(a, (await params).id);
  if (!collection) throw new HttpError(404, 'There is no such collection.');
  if (!path.isAbsolute(wanted)) throw new HttpError(422, 'Name the folder from the root of this machine, such as /srv/scans.');
  const kind = await stat(wanted).catch(() => undefined);
  if (!kind) throw new HttpError(422, `There is no ${wanted} on this machine, or it may not be read.`);
  if (await overlapsArchive(a, wanted))
    throw new HttpError(422, 'That is where this archive keeps its own files; it cannot be taken into itself.');
  const { files, passedOver } = kind.isDirectory() ? await filesOfFolder(wanted) : { files: [wanted], passedOver: [] };
  if (files.length + passedOver.length === 0) throw new HttpError(422, `${wanted} holds no files.`);
  return linesOf<IntakeResult | { files: number }>(async (say, signal) => {
    say({ files: files.length + passedOver.length });
    for (const { name, why } of passedOver) say({ ok: false, fileName: name, message: why });
    for (const file of files) {
      if (signal.aborted) break;
      const result = await takeIn(a, collection.id, file, path.basename(file), 'copy');
      if (result.ok) for (const { id } of result.items) examineLater(id);
      say(result);
    }
  });
});
