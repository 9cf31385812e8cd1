import { spawn, type ChildProcess } from 'node:child_process';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { CodedError } from '../core';
import { confined, TOOL_ENVIRONMENT } from './confine';

/** A file that cannot be used, said in words; `message` is meant for the restorer. */
export class MediaError extends CodedError {
  constructor(message: string, options?: ErrorOptions) {
    super('media', message, options);
  }
}

/** What a finished tool printed. */
export interface ToolResult {
  code: number | null;
  stdout: Buffer;
  stderr: string;
}

/** Only local files and pipes, whatever a playlist inside a file asks for. */
export const SAFE_PROTOCOLS = ['-protocol_whitelist', 'file,pipe'];

/** A path as ffmpeg takes it, which runs elsewhere: never an option, never another protocol. */
export const fileArgument = (file: string): string => `file:${path.resolve(file)}`;

/** Output that does not change with the day or the machine. */
export const BIT_EXACT = ['-fflags', '+bitexact', '-flags:v', '+bitexact', '-flags:a', '+bitexact', '-flags:s', '+bitexact'];

const STDERR_KEPT = 20_000;

/** A tool that was stopped from outside or crashed: nothing is known of the file, and the work may be tried again. */
export class Interrupted extends CodedError {
  constructor(message: string, options?: ErrorOptions) {
    super('interrupted', message, options);
  }
}

type Tool = 'ffmpeg' | 'ffprobe' | 'perl';

/** Starts a tool without a shell, confined, in a folder where it finds nothing. */
export function startTool(name: Tool, args: string[]): ChildProcess {
  const [command, ...rest] = confined(name, args);
  const child = spawn(command, rest, { stdio: ['pipe', 'pipe', 'pipe'], env: TOOL_ENVIRONMENT, cwd: tmpdir() });
  // A reader that goes away early is no fault of ours.
  child.stdin?.on('error', () => undefined);
  return child;
}

/** Seconds a tool may take unless its caller allows more: a tape's packets are read in less. */
const LIMIT_SECONDS = 3600;

interface ToolOptions {
  signal?: AbortSignal;
  /** Seconds it may take. */
  limit?: number;
  /** What it reads from its standard input. */
  input?: string;
}

/**
 * Runs a tool to its end and collects what it prints.
 * @throws Interrupted when it was stopped from outside; MediaError when it took too long or is not installed.
 */
export function runTool(name: Tool, args: string[], { signal, limit = LIMIT_SECONDS, input }: ToolOptions = {}): Promise<ToolResult> {
  return new Promise((resolve, reject) => {
    const child = startTool(name, args);
    child.stdin?.end(input);
    const out: Buffer[] = [];
    let stderr = '',
      late = false;
    child.stdout?.on('data', (chunk: Buffer) => out.push(chunk));
    child.stderr?.on('data', (chunk: Buffer) => (stderr = (stderr + chunk.toString()).slice(-STDERR_KEPT)));
    const stop = (): void => void child.kill('SIGKILL');
    signal?.addEventListener('abort', stop, { once: true });
    const timer = setTimeout(() => {
      late = true;
      stop();
    }, limit * 1000);
    child.on('error', (error: NodeJS.ErrnoException) => {
      clearTimeout(timer);
      reject(error.code === 'ENOENT' ? notInstalled(name) : error);
    });
    child.on('close', (code, killed) => {
      clearTimeout(timer);
      signal?.removeEventListener('abort', stop);
      if (late) reject(new MediaError(`Reading the file took longer than ${limit} s and was stopped; it seems to be damaged.`));
      else if (killed && !signal?.aborted) reject(new Interrupted(`${name} was stopped (${killed})`));
      else if (code === NOT_FOUND && stderr.includes(name)) reject(notInstalled(name));
      else resolve({ code, stdout: Buffer.concat(out), stderr });
    });
  });
}

/** What a wrapper answers when it cannot find what it is to run. */
const NOT_FOUND = 127;
const notInstalled = (name: string): MediaError =>
  new MediaError(`${name} is not installed; on Debian: apt-get install ${name === 'perl' ? 'perl' : 'ffmpeg'}`);

/** What sharp complains of, in one line, without the file's path. */
export function sharpComplaint(error: unknown): string {
  const lines = (error as Error).message.split('\n').filter((line) => line.trim());
  const last = lines[lines.length - 1] ?? 'no reason given';
  return last.replace(/^\S*\/\S*:\s*/, '').replace(/[.\s]+$/, '');
}

/** Last line a tool complained with, without addresses. */
export function lastComplaint(stderr: string): string {
  const lines = stderr
    .split('\n')
    .map((l) => l.replace(/^\[[^\]]*\]\s*/, '').trim())
    .filter(Boolean);
  return lines[lines.length - 1] ?? 'no reason given';
}
