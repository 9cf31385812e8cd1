import { NextResponse, type NextRequest } from 'next/server';

/**
 * What a page may do: everything comes from this machine, and only scripts that this answer named run. A text that got into a page as
 * a script has no such name.
 */
export function proxy(request: NextRequest): NextResponse {
  const nonce = crypto.randomUUID();
  const policy = [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    // Components set sizes and places as styles.
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' blob: data:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');
  const headers = new Headers(request.headers);
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  return response;
}

/** Pages; answers in JSON and files run nothing. */
export const config = { matcher: '/((?!api/|_next/static|_next/image|icon.svg).*)' };
