import path from 'node:path';
import type { NextConfig } from 'next';

const config: NextConfig = {
  serverExternalPackages: [
    'better-sqlite3',
    'exiftool-vendored',
    'knex',
    'sharp',
    'piscina',
    'onnxruntime-node',
    'class-validator',
    'class-transformer',
    'reflect-metadata',
  ],
  turbopack: { root: path.resolve(import.meta.dirname) },
  poweredByHeader: false,
  // What pages may do stands in src/proxy.ts.
  headers: () =>
    Promise.resolve([
      {
        source: '/:path*',
        headers: [
          { key: 'X-Content-Type-Options', value: 'nosniff' },
          { key: 'Referrer-Policy', value: 'same-origin' },
          { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
        ],
      },
    ]),
};

export default config;
