import { spawn, type ChildProcess } from 'node:child_process';
import os from 'node:os';
import { confined, type Limits } from '../media';

/** What a process answers: its result, or what was wrong with the task. */
export type Answer<R> = { result: R } | { problem: string };

export interface ProcessPoolOptions {
  /** Path of the Node module that each process runs; it answers every message with an `Answer`. */
  entry: string;
  environment: NodeJS.ProcessEnv;
  processes: number;
  /** Bytes of memory a process may write to; one that needs more ends. */
  memory: number;
  /** How far its processes give way to others, 1 to 19. */
  nice?: number;
  /** Milliseconds a task may take; one that takes longer is ended with its process. */
  patience: number;
}

/** A process of the pool ended in the middle of a task: by a fault, by its bound of memory, or because it took too long. */
export class ProcessEnded extends Error {
  readonly code = 'process-ended';
}

/**
 * Runs tasks in processes of their own, under limits, so that a file which breaks its decoder or takes all memory costs that one task.
 * A process is started when there is work and serves many tasks; one that ended is replaced at the next task.
 */
export class ProcessPool<T extends object, R> {
  private readonly all = new Set<ChildProcess>();
  private readonly idle: ChildProcess[] = [];
  private readonly waiting: (() => void)[] = [];
  private busy = 0;

  constructor(private readonly options: ProcessPoolOptions) {}

  /** @throws ProcessEnded; Error with what the process said of the task. */
  async run(task: T): Promise<R> {
    if (this.busy >= this.options.processes) await new Promise<void>((go) => this.waiting.push(go));
    else this.busy++;
    try {
      const child = this.idle.pop() ?? this.start();
      const answer = await this.ask(child, task);
      if (child.connected) this.idle.push(child);
      if ('problem' in answer) throw new Error(answer.problem);
      return answer.result;
    } finally {
      const next = this.waiting.shift();
      if (next) next();
      else this.busy--;
    }
  }

  /** Ends all processes, and the tasks they are at. */
  close(): void {
    for (const child of this.all) child.kill('SIGKILL');
  }

  private start(): ChildProcess {
    const { entry, environment, memory } = this.options;
    const limits: Limits = { counts: 'data', memory };
    const [command, ...args] = confined(process.execPath, [entry], limits);
    const child = spawn(command, args, { env: environment, stdio: ['ignore', 'inherit', 'inherit', 'ipc'], serialization: 'advanced' });
    // What is looked at comes first.
    if (child.pid !== undefined && this.options.nice) os.setPriority(child.pid, this.options.nice);
    this.all.add(child);
    child.on('exit', () => {
      this.all.delete(child);
      const at = this.idle.indexOf(child);
      if (at >= 0) this.idle.splice(at, 1);
    });
    // An idle process does not keep the server from ending, and ends with it.
    child.unref();
    child.channel?.unref();
    return child;
  }

  private ask(child: ChildProcess, task: T): Promise<Answer<R>> {
    const { memory, patience } = this.options;
    return new Promise((resolve, reject) => {
      let late = false;
      const timer = setTimeout(() => {
        late = true;
        child.kill('SIGKILL');
      }, patience);
      const settle = (): void => {
        clearTimeout(timer);
        child.off('message', answered).off('exit', ended).off('error', failed);
        child.channel?.unref();
      };
      const answered = (answer: unknown): void => {
        settle();
        resolve(answer as Answer<R>);
      };
      const ended = (code: number | null, signal: string | null): void => {
        settle();
        const how = late
          ? `it took more than ${Math.round(patience / 60_000)} minutes`
          : `its process ended (${signal ?? `code ${code}`}); it may take ${(memory / 2 ** 30).toFixed(1)} GiB of memory`;
        reject(new ProcessEnded(how));
      };
      const failed = (error: Error): void => {
        settle();
        reject(new ProcessEnded(error.message));
      };
      child.on('message', answered).on('exit', ended).on('error', failed);
      child.channel?.ref();
      child.send(task);
    });
  }
}
