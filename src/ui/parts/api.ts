import type { ProofReport } from '../../archive';
import type { ProofQuery } from '../../shared/requests';

/** JSON of a route of this application. @throws Error with the server's words. */
export async function api<T>(path: string, init?: RequestInit & { json?: unknown }): Promise<T> {
  const { json, ...rest } = init ?? {};
  const response = await fetch(`/api/${path}`, {
    ...rest,
    ...(json !== undefined && { body: JSON.stringify(json), headers: { 'content-type': 'application/json' } }),
  });
  if (!response.ok) throw new Error(await errorText(response));
  return (response.status === 204 ? undefined : await response.json()) as T;
}

export async function errorText(response: Response): Promise<string> {
  const body = (await response.json().catch(() => undefined)) as { error?: string } | undefined;
  return body?.error ?? `The server answered ${response.status}.`;
}

/** A proof with its pixels made into a picture. */
export interface Proof extends Omit<ProofReport, 'width' | 'height' | 'missing'> {
  bitmap: ImageBitmap;
}

/** A proof; undefined when a newer query replaced it, or when there is no such first look. */
export async function fetchProof(itemId: string, query: ProofQuery, signal: AbortSignal): Promise<Proof | undefined> {
  const response = await fetch(`/api/items/${itemId}/proof`, {
    method: 'POST',
    body: JSON.stringify(query),
    headers: { 'content-type': 'application/json' },
    signal,
  });
  if (response.status === 409 || response.status === 204) return undefined;
  if (!response.ok) throw new Error(await errorText(response));
  const report = JSON.parse(response.headers.get('wairetic-proof') ?? '{}') as ProofReport;
  const pixels = new Uint8ClampedArray(await response.arrayBuffer());
  return { ...report, bitmap: await createImageBitmap(new ImageData(pixels, report.width, report.height)) };
}
