/** The web server: requests pass the door before the application sees them. `node dist/server.mjs PORT` */
import { createServer } from 'node:http';
import path from 'node:path';
import next from 'next';
import { refusal } from './door';

/** Only this machine. */
const HOST = '127.0.0.1';
/** Milliseconds in which a request's head must have come. */
const HEAD_WITHIN = 20_000;

const port = Number(process.argv[2] ?? 4310);
if (!Number.isInteger(port) || port < 0 || port > 65_535) {
  process.stderr.write(`wairetic: ${process.argv[2]} is no port\n`);
  process.exit(2);
}
const server = createServer({ headersTimeout: HEAD_WITHIN, requestTimeout: 0 });
server.on('error', (error: NodeJS.ErrnoException) => {
  process.stderr.write(
    `wairetic: ${error.code === 'EADDRINUSE' ? `port ${port} is taken by another program; --port names one` : error.message}\n`,
  );
  process.exit(1);
});
const application = next({ dev: false, dir: path.resolve(import.meta.dirname, '..'), hostname: HOST, port, httpServer: server });
await application.prepare();
const answer = application.getRequestHandler();
server.on('request', (request, response) => {
  const no = refusal(request);
  if (!no) return void answer(request, response);
  response.writeHead(no.status, { 'content-type': 'application/json', connection: 'close' });
  response.end(JSON.stringify({ error: no.message }));
});
server.on('connect', (_request, socket) => socket.end('HTTP/1.1 405 Method Not Allowed\r\nconnection: close\r\n\r\n'));
server.listen(port, HOST, () => {
  const address = server.address();
  const own = `http://${HOST}:${typeof address === 'object' && address ? address.port : port}`;
  // The first answer comes when the archive is open; where it cannot be opened the process has ended by then, and said why.
  void fetch(`${own}/api/queue`).then(() => process.stdout.write(`Ready on ${own}\n`));
});
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0));
