import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { IncomingHttpHeaders } from 'node:http';
import { LARGEST_BODY, ownHosts, refusal } from './door';

const own = { host: '127.0.0.1:4310' };
const status = (method: string, url: string, headers: IncomingHttpHeaders = own): number | undefined =>
  refusal({ method, url, headers })?.status;

describe('the door', () => {
  it('lets in what comes from here', () => {
    for (const host of ['127.0.0.1:4310', 'localhost:4310', 'localhost', '[::1]:4310'])
      expect(status('GET', '/', { host })).toBeUndefined();
    expect(status('POST', '/api/jobs', { ...own, origin: 'http://127.0.0.1:4310', 'sec-fetch-site': 'same-origin' })).toBeUndefined();
    // The command line and other programs send no origin.
    expect(status('POST', '/api/jobs')).toBeUndefined();
  });

  it('keeps out other names, for reading too', () => {
    for (const host of ['evil.example', 'evil.example:4310', '127.0.0.1.evil.example', '', '127.0.0.1:x']) {
      expect(status('GET', '/', { host })).toBe(403);
      expect(status('POST', '/api/jobs', { host, origin: `http://${host}` })).toBe(403);
    }
    expect(status('GET', '/', {})).toBe(403);
  });

  it('lets in names that were given', () => {
    const headers = { host: 'bench.local:4310' };
    expect(refusal({ method: 'GET', url: '/', headers }, ownHosts('bench.local, other'))).toBeUndefined();
    expect(refusal({ method: 'GET', url: '/', headers }, ownHosts(''))).toMatchObject({ status: 403 });
  });

  it('keeps out changes that come from elsewhere, or nobody knows whence', () => {
    for (const headers of [
      { origin: 'null' },
      { origin: 'https://evil.example' },
      { origin: 'http://127.0.0.1:9' },
      { 'sec-fetch-site': 'cross-site' },
    ])
      expect(status('POST', '/api/jobs', { ...own, ...headers })).toBe(403);
  });

  it('answers what makes no sense at once', () => {
    expect(status('TRACE', '/')).toBe(405);
    expect(status('CONNECT', 'x:1')).toBe(405);
    for (const url of ['/%', '/%zz', '/a%00b', '/?q=%E0%A4%A', 'no-slash']) expect(status('GET', url)).toBe(400);
    expect(status('GET', `/${'x'.repeat(9000)}`)).toBe(414);
  });

  it('takes large bodies for uploads alone', () => {
    const headers = { ...own, 'content-length': String(LARGEST_BODY + 1) };
    expect(status('POST', '/api/jobs', headers)).toBe(413);
    expect(status('PATCH', '/api/uploads/x', headers)).toBeUndefined();
  });

  it('never fails itself, whatever comes', () => {
    fc.assert(
      fc.property(fc.string(), fc.string(), fc.string(), fc.string(), (method, url, host, origin) => {
        const answer = refusal({ method, url, headers: { host, origin } });
        expect(answer === undefined || answer.message.length > 0).toBe(true);
      }),
    );
  });
});
