import { spawnSync } from 'node:child_process';

/** All that a tool is told of the machine. */
export const TOOL_ENVIRONMENT: NodeJS.ProcessEnv = {
  NODE_ENV: process.env.NODE_ENV,
  PATH: process.env.PATH ?? '/usr/bin:/bin',
  LC_ALL: 'C.UTF-8',
};

/** Address space a tool may take, in bytes: frames of 400 megapixels at 16 bits still fit. */
const MOST_MEMORY = 12 * 2 ** 30;
/** Largest file it may write, in bytes: a lossless master of a long film at 2160 lines. */
const LARGEST_FILE = 4 * 2 ** 40;

const works = (command: string, ...args: string[]): boolean =>
  spawnSync(command, [...args, 'true'], { stdio: 'ignore', timeout: 5000 }).status === 0;

let wrapper: string[] | undefined;

/**
 * The command line of a tool under limits of memory and file size, without core dumps, and without a network where the system allows it:
 * what it reads was made by others, and a decoder may have faults. Both wrappers replace themselves by the tool, so that its process
 * is the one that was started.
 */
export function confined(name: string, args: string[]): string[] {
  wrapper ??= findWrapper();
  return [...wrapper, name, ...args];
}

function findWrapper(): string[] {
  const limits = ['prlimit', `--as=${MOST_MEMORY}`, `--fsize=${LARGEST_FILE}`, '--core=0'];
  const alone =
    [
      ['unshare', '--net'],
      ['unshare', '--map-root-user', '--net'],
    ].find(([command, ...rest]) => works(command, ...rest)) ?? [];
  return [...(works(limits[0], ...limits.slice(1)) ? limits : []), ...alone];
}
