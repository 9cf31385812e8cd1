import { FileStore } from '@tus/file-store';
import { Server } from '@tus/server';
import { archive, archivePaths, findCollection, receiveUpload } from '../../../../archive';
import { examineLater } from '../../../../render';
import { assertOwnOrigin } from '../../../http';

export const dynamic = 'force-dynamic';

/** Largest upload: 64 GiB, more than any disc or tape holds. */
const MAX_BYTES = 64 * 2 ** 30;

declare global {
  var waireticUploads: Server | undefined;
}

const refuse = (status: number, message: string): never => {
  throw Object.assign(new Error(message), { status_code: status, body: message });
};

/** Resumable uploads (tus 1.0): they stream to disk, and when whole are taken into the collection they name. */
function uploads(): Server {
  globalThis.waireticUploads ??= new Server({
    path: '/api/uploads',
    datastore: new FileStore({ directory: archivePaths().uploads }),
    maxSize: MAX_BYTES,
    relativeLocation: true,
    respectForwardedHeaders: false,
    async onUploadCreate(_request, upload) {
      const { collection, filename } = upload.metadata ?? {};
      if (!filename) refuse(400, 'The upload names no file.');
      if (!collection || !(await findCollection(await archive(), collection))) refuse(404, 'There is no such collection.');
      if (upload.size === 0) refuse(422, 'The file is empty.');
      return {};
    },
    async onUploadFinish(_request, upload) {
      const result = await receiveUpload(await archive(), upload);
      if (!result.ok) return refuse(422, result.message);
      for (const { id } of result.items) examineLater(id);
      return { headers: { 'Wairetic-Item': result.items[0].id } };
    },
  });
  return globalThis.waireticUploads;
}

async function serve(request: Request): Promise<Response> {
  try {
    if (request.method !== 'HEAD' && request.method !== 'OPTIONS') assertOwnOrigin(request);
  } catch (error) {
    return Response.json({ error: (error as Error).message }, { status: 403 });
  }
  const response = await uploads().handleWeb(request);
  // Our own pages need no leave, and no others get one.
  const headers = new Headers(response.headers);
  for (const name of [...headers.keys()]) if (name.startsWith('access-control-')) headers.delete(name);
  return new Response(response.body, { status: response.status, headers });
}

export { serve as DELETE, serve as HEAD, serve as OPTIONS, serve as PATCH, serve as POST };
