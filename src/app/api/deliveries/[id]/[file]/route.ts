import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import path from 'node:path';
import { archive, listDeliveries, pathInside } from '../../../../../archive';
import { sha256File, webStream } from '../../../../../media';
import { handler, HttpError } from '../../../../http';

/** Largest file that is held against its checksum before it is sent, in bytes; larger ones when they are checked. */
const HASHED = 2 ** 31;

/** One file of a delivery, to save. */
export const GET = handler<{ params: Promise<{ id: string; file: string }> }>(async (request, { params }) => {
  const { id, file } = await params;
  const a = await archive();
  const [delivery] = await listDeliveries(a, { id });
  const listed = delivery?.files.find((f) => f.fileName === file);
  if (!delivery || !listed) throw new HttpError(404, 'There is no such file.');
  const full = pathInside(a.paths.deliveries, path.join(delivery.folder, listed.fileName));
  const { size } = await stat(full).catch(() => {
    throw new HttpError(410, `${listed.fileName} is no longer where it was delivered.`);
  });
  const known = size === listed.bytes && (size > HASHED || (await sha256File(full)) === listed.sha256);
  if (!known && !new URL(request.url).searchParams.has('anyway'))
    throw new HttpError(409, `${listed.fileName} is not what was delivered: its checksum differs. With ?anyway=1 it is sent as it is.`);
  return new Response(webStream(createReadStream(full)), {
    headers: {
      'content-type': 'application/octet-stream',
      'content-length': String(size),
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(listed.fileName)}`,
    },
  });
});
