import { spawn, type ChildProcess } from 'node:child_process';

/** A file that cannot be used, said in words; `message` is meant for the restorer. */
export class MediaError extends Error {
  override name = 'MediaError';
}

/** What a finished tool printed. */
export interface ToolResult {
  code: number | null;
  stdout: Buffer;
  stderr: string;
}

/** Only local files and pipes, whatever a playlist inside a file asks for. */
export const SAFE_PROTOCOLS = ['-protocol_whitelist', 'file,pipe'];

/** A path as ffmpeg takes it: never an option, never another protocol. */
export const fileArgument = (path: string): string => `file:${path}`;

/** Output that does not change with the day or the machine. */
export const BIT_EXACT = ['-fflags', '+bitexact', '-flags:v', '+bitexact', '-flags:a', '+bitexact', '-flags:s', '+bitexact'];

const STDERR_KEPT = 20_000;

/** Starts ffmpeg or ffprobe without a shell. */
export function startTool(name: 'ffmpeg' | 'ffprobe', args: string[]): ChildProcess {
  const child = spawn(name, args, { stdio: ['pipe', 'pipe', 'pipe'] });
  // A reader that goes away early is no fault of ours.
  child.stdin?.on('error', () => undefined);
  return child;
}

/** Runs a tool to its end and collects what it prints. */
export function runTool(name: 'ffmpeg' | 'ffprobe', args: string[], signal?: AbortSignal): Promise<ToolResult> {
  return new Promise((resolve, reject) => {
    const child = startTool(name, args);
    child.stdin?.end();
    const out: Buffer[] = [];
    let stderr = '';
    child.stdout?.on('data', (chunk: Buffer) => out.push(chunk));
    child.stderr?.on('data', (chunk: Buffer) => (stderr = (stderr + chunk.toString()).slice(-STDERR_KEPT)));
    const stop = (): void => void child.kill('SIGKILL');
    signal?.addEventListener('abort', stop, { once: true });
    child.on('error', (error: NodeJS.ErrnoException) => {
      reject(error.code === 'ENOENT' ? new MediaError(`${name} is not installed; on Debian: apt-get install ffmpeg`) : error);
    });
    child.on('close', (code) => {
      signal?.removeEventListener('abort', stop);
      resolve({ code, stdout: Buffer.concat(out), stderr });
    });
  });
}

/** Last line a tool complained with, without addresses. */
export function lastComplaint(stderr: string): string {
  const lines = stderr
    .split('\n')
    .map((l) => l.replace(/^\[[^\]]*\]\s*/, '').trim())
    .filter(Boolean);
  return lines[lines.length - 1] ?? 'no reason given';
}
