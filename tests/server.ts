import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import path from 'node:path';

export const ROOT = path.resolve(import.meta.dirname, '..');

/** Mounts a small file system in the archive's folder, then becomes the program. */
const MOUNTED = 'mount -t tmpfs -o "size=$0m" tmpfs "$WAIRETIC_HOME" && exec "$@"';

/** What comes before a script that may mount file systems, without being an administrator; undefined where the system allows that to nobody. */
export const ownDisk = (): string[] | undefined =>
  [['--map-root-user'], []]
    .map((options) => ['unshare', ...options, '--mount', 'sh', '-c'])
    .find(([command, ...rest]) => spawnSync(command, [...rest, 'mount -t tmpfs tmpfs /mnt'], { stdio: 'ignore' }).status === 0);

/** The application on an archive of its own, which can be killed and started again. */
export class TestServer {
  readonly home = mkdtempSync(path.join(tmpdir(), 'wairetic-test-'));
  url = '';
  private child?: ChildProcess;

  /**
   * @param env what its processes get beyond this one's environment.
   * @param disk megabytes of a file system of its own, which it alone sees; see `ownDisk`.
   */
  constructor(
    private readonly env: Record<string, string> = {},
    private readonly disk?: number,
  ) {}

  /** The archive's folder as this process gets at it. */
  get seenHome(): string {
    return this.disk === undefined ? this.home : `/proc/${this.child?.pid}/root${this.home}`;
  }

  async start(): Promise<void> {
    const port = await freePort();
    this.url = `http://127.0.0.1:${port}`;
    const program = [path.join(ROOT, 'bin/wairetic'), 'serve', '--port', String(port)];
    const [command, ...args] = this.disk === undefined ? program : [...(ownDisk() ?? []), MOUNTED, String(this.disk), ...program];
    this.child = spawn(command, args, {
      env: { ...process.env, WAIRETIC_HOME: this.home, WAIRETIC_ROOT: ROOT, ...this.env },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    const { stdout } = this.child;
    if (!stdout) throw new Error('no output');
    let said = '';
    for await (const chunk of stdout) {
      said += String(chunk);
      if (said.includes('Ready')) break;
    }
    if (!said.includes('Ready')) throw new Error(`the server did not start: ${said}`);
  }

  /** Process ids of this archive's processes whose command line holds `part`. */
  processes(part: string): number[] {
    return readdirSync('/proc')
      .filter((name) => /^\d+$/.test(name))
      .map(Number)
      .filter((pid) => {
        try {
          const line = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
          // Tools get an empty environment, and files of the archive.
          return line.includes(part) && (line + readFileSync(`/proc/${pid}/environ`, 'utf8')).includes(this.home);
        } catch {
          return false;
        }
      });
  }

  /** Kills everything of this archive at once, as a power cut would. */
  kill(): void {
    for (const part of ['wairetic', 'server.mjs', 'worker.mjs', 'examiner.mjs', 'ffmpeg'])
      for (const pid of this.processes(part)) process.kill(pid, 'SIGKILL');
  }

  async stop(): Promise<void> {
    if (this.child?.exitCode === null) {
      const ended = once(this.child, 'exit');
      this.child.kill('SIGTERM');
      await ended;
    }
    this.kill();
    rmSync(this.home, { recursive: true, force: true, maxRetries: 5 });
  }

  /**
   * A request on a connection of its own: one kept open may have been closed by the server unseen, while a test waited for a command.
   * @param where after the server's address, or a whole address.
   */
  fetch(where: string, init: RequestInit & { headers?: Record<string, string> } = {}): Promise<Response> {
    return fetch(new URL(where, this.url), { ...init, headers: { ...init.headers, connection: 'close' } });
  }

  /** JSON of a route. */
  async api<T>(route: string, body?: unknown, method = body === undefined ? 'GET' : 'POST'): Promise<T> {
    const response = await this.fetch(`/api/${route}`, {
      method,
      ...(body !== undefined && { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
    });
    // What has nothing to say answers nothing.
    const text = (await response.text()) || 'null';
    if (!response.ok) throw new Error(`${route}: ${response.status} ${text}`);
    return JSON.parse(text.startsWith('{"files"') ? `[${text.trim().split('\n').join(',')}]` : text) as T;
  }
}

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.on('error', reject);
    probe.listen(0, '127.0.0.1', () => {
      const address = probe.address();
      probe.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });
}
