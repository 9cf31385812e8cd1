import path from 'node:path';
import type { NextConfig } from 'next';

const config: NextConfig = {
  serverExternalPackages: [
    'better-sqlite3',
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
  // Everything is served by this machine: nothing may be fetched from elsewhere, nothing may frame the application.
  headers: () =>
    Promise.resolve([
      {
        source: '/:path*',
        headers: [
          {
            key: 'Content-Security-Policy',
            value:
              "default-src 'self'; img-src 'self' blob: data:; style-src 'self' 'unsafe-inline'; script-src 'self' 'unsafe-inline'; frame-ancestors 'none'",
          },
          { key: 'X-Content-Type-Options', value: 'nosniff' },
        ],
      },
    ]),
};

export default config;
