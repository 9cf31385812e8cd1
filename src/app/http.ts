import 'reflect-metadata';
import { plainToInstance } from 'class-transformer';
import { validate } from 'class-validator';
import { withoutFolders } from '../archive';
import { codeOf, isUserError } from '../core';
import { LARGEST_BODY } from '../server/door';

/** An answer that ends a request early, with a status. */
export class HttpError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

/** Runs a handler and turns what it throws into an answer in words. */
export function handler<C>(work: (request: Request, context: C) => Promise<Response>): (request: Request, context: C) => Promise<Response> {
  return async (request, context) => {
    try {
      if (request.method !== 'GET' && request.method !== 'HEAD') assertOwnOrigin(request);
      return await work(request, context);
    } catch (error) {
      const known = error as Error;
      if (known instanceof HttpError) return Response.json({ error: known.message }, { status: known.status });
      if (isUserError(known)) return Response.json({ error: known.message }, { status: 422 });
      if (codeOf(known) === 'cancelled') return Response.json({ error: 'a newer request came' }, { status: 409 });
      console.error(known);
      return Response.json({ error: `Something failed on the server: ${withoutFolders(known.message)}` }, { status: 500 });
    }
  };
}

/** Requests that change something must come from the application's own pages. */
export function assertOwnOrigin(request: Request): void {
  const origin = request.headers.get('origin');
  const site = request.headers.get('sec-fetch-site');
  const host = request.headers.get('host');
  if (site && site !== 'same-origin' && site !== 'none')
    throw new HttpError(403, 'Requests that change something must come from the application itself.');
  if (origin && host && !(URL.canParse(origin) && new URL(origin).host === host))
    throw new HttpError(403, 'Requests that change something must come from the application itself.');
}

/** Most levels of objects and lists within one another; plans with forks in forks and masks have some twenty. */
const MAX_DEPTH = 32;

/** The body's text. @throws HttpError for one that is larger than is read, told or not. */
async function boundedText(request: Request): Promise<string> {
  const chunks: Uint8Array[] = [];
  let bytes = 0;
  for await (const chunk of (request.body ?? []) as AsyncIterable<Uint8Array>) {
    bytes += chunk.length;
    if (bytes > LARGEST_BODY) throw new HttpError(413, `The request is larger than ${LARGEST_BODY >> 20} MB.`);
    chunks.push(chunk);
  }
  return Buffer.concat(chunks).toString();
}

/** Whether a JSON text nests deeper than is read; what takes it apart would run out of stack. */
export function nestsTooDeep(text: string): boolean {
  let depth = 0,
    quoted = false;
  for (let i = 0; i < text.length; i++) {
    const sign = text[i];
    if (quoted) {
      if (sign === '\\') i++;
      else if (sign === '"') quoted = false;
    } else if (sign === '"') quoted = true;
    else if (sign === '{' || sign === '[') {
      if (++depth > MAX_DEPTH) return true;
    } else if (sign === '}' || sign === ']') depth--;
  }
  return false;
}

/** The body as a checked object of a class. */
export async function readBody<T extends object>(request: Request, type: new () => T): Promise<T> {
  const text = await boundedText(request);
  if (nestsTooDeep(text)) throw new HttpError(400, 'The request nests deeper than anything it could mean.');
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch {
    throw new HttpError(400, 'The request holds no JSON.');
  }
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw)) throw new HttpError(400, 'The request must be an object.');
  const value = plainToInstance(type, raw);
  const errors = await validate(value, { whitelist: true, forbidNonWhitelisted: true });
  if (errors.length)
    throw new HttpError(400, errors.flatMap((e) => Object.values(e.constraints ?? { wrong: `${e.property} is wrong` })).join('; '));
  return value;
}

/**
 * An answer of a line of JSON for each thing that is done, as it is done. Whoever stops listening ends nothing but the lines.
 * @param work is told by the signal when nobody listens any more.
 */
export function linesOf<T>(work: (say: (value: T) => void, signal: AbortSignal) => Promise<void>): Response {
  const gone = new AbortController();
  const text = new TextEncoder();
  const stream = new ReadableStream<Uint8Array>({
    async start(controller) {
      const say = (value: T): void => {
        if (!gone.signal.aborted) controller.enqueue(text.encode(`${JSON.stringify(value)}\n`));
      };
      try {
        await work(say, gone.signal);
        if (!gone.signal.aborted) controller.close();
      } catch (error) {
        if (!gone.signal.aborted) controller.error(error);
      }
    },
    cancel: () => gone.abort(),
  });
  return new Response(stream, { headers: { 'content-type': 'application/x-ndjson', 'cache-control': 'no-cache, no-transform' } });
}
