import { spawnSync } from 'node:child_process';

/** All that a tool is told of the machine. */
export const TOOL_ENVIRONMENT: NodeJS.ProcessEnv = {
  NODE_ENV: process.env.NODE_ENV,
  PATH: process.env.PATH ?? '/usr/bin:/bin',
  LC_ALL: 'C.UTF-8',
};

/** Address space a tool may take, in bytes: frames of 400 megapixels at 16 bits still fit. */
const MAX_MEMORY = 12 * 2 ** 30;
/** Largest file it may write, in bytes: a lossless master of a long film at 2160 lines. */
const LARGEST_FILE = 4 * 2 ** 40;

export interface Limits {
  /**
   * What the memory bound counts: all addresses (`as`), or what can be written to (`data`), for programs such as Node that
   * reserve far more addresses than they use.
   */
  counts: 'as' | 'data';
  /** Most of it, in bytes. */
  memory: number;
}

const works = (command: string, ...args: string[]): boolean =>
  spawnSync(command, [...args, 'true'], { stdio: 'ignore', timeout: 5000 }).status === 0;

let available: { prlimit: boolean; unshare: string[] } | undefined;

/**
 * The command line of a tool under limits of memory and file size, without core dumps, and without a network where the system allows it:
 * what it reads was made by others, and a decoder may have faults. Both wrappers replace themselves by the tool, so that its process
 * is the one that was started.
 */
export function confined(name: string, args: string[], { counts, memory }: Limits = { counts: 'as', memory: MAX_MEMORY }): string[] {
  available ??= {
    prlimit: works('prlimit', '--core=0'),
    unshare:
      [
        ['unshare', '--net'],
        ['unshare', '--map-root-user', '--net'],
      ].find(([command, ...rest]) => works(command, ...rest)) ?? [],
  };
  const limits = available.prlimit ? ['prlimit', `--${counts}=${Math.floor(memory)}`, `--fsize=${LARGEST_FILE}`, '--core=0'] : [];
  return [...limits, ...available.unshare, name, ...args];
}
