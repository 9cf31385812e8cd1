import type { IncomingHttpHeaders } from 'node:http';

/** Largest body of a request that is no upload, in bytes. */
export const LARGEST_BODY = 2 << 20;
/** Longest address of a request, in characters. */
const LONGEST_ADDRESS = 8192;

/** Where files come in, which are counted as they do. */
const TAKES_FILES = /^\/api\/(?:uploads|items\/[^/?]+\/pictures$)/;

const METHODS = ['GET', 'HEAD', 'OPTIONS', 'POST', 'PUT', 'PATCH', 'DELETE'];
/** Methods that change nothing. */
const READING = ['GET', 'HEAD', 'OPTIONS'];

/** What a request says of itself before any of its body. */
export interface Caller {
  method?: string;
  url?: string;
  headers: IncomingHttpHeaders;
}

/** Why a request is not let in. */
export interface Refusal {
  status: 400 | 403 | 405 | 411 | 413 | 414;
  message: string;
}

/** Names this machine has for itself, and what `WAIRETIC_HOSTS` names, separated by commas. */
export function ownHosts(named = process.env.WAIRETIC_HOSTS): string[] {
  const others = (named ?? '').split(',').map((host) => host.trim().toLowerCase());
  return ['127.0.0.1', 'localhost', '[::1]', ...others.filter(Boolean)];
}

/**
 * Whether a request may come in. A page elsewhere can have its name point at this machine (DNS rebinding), so the name that was
 * asked for must be one of ours, for reading as for changing; and what changes something must come from our own pages.
 */
export function refusal({ method = '', url = '', headers }: Caller, hosts = ownHosts()): Refusal | undefined {
  if (!METHODS.includes(method)) return { status: 405, message: `${method || 'This method'} is not served.` };
  if (url.length > LONGEST_ADDRESS) return { status: 414, message: 'The address is too long.' };
  if (!readable(url)) return { status: 400, message: 'The address is malformed.' };
  const host = headers.host?.toLowerCase() ?? '';
  if (!hosts.includes(host.replace(/:\d{1,5}$/, '')))
    return { status: 403, message: 'This server answers under its own names only; WAIRETIC_HOSTS names others.' };
  const { origin } = headers;
  const site = headers['sec-fetch-site'];
  const foreign = (origin !== undefined && hostOf(origin) !== host) || (site !== undefined && site !== 'same-origin' && site !== 'none');
  if (foreign && !READING.includes(method))
    return { status: 403, message: 'Requests that change something must come from the application itself.' };
  if (!TAKES_FILES.test(url) && Number(headers['content-length'] ?? 0) > LARGEST_BODY)
    return { status: 413, message: `The request is larger than ${LARGEST_BODY >> 20} MB.` };
  return undefined;
}

/** Whether the percent signs of an address can be read, and hide no end of text. */
function readable(url: string): boolean {
  try {
    return url.startsWith('/') && !decodeURIComponent(url.split('?')[0]).includes('\0') && decodeURI(url).length > 0;
  } catch {
    return false;
  }
}

/** `null` and other words are nobody's host. */
function hostOf(origin: string): string | undefined {
  try {
    return new URL(origin).host;
  } catch {
    return undefined;
  }
}
