import { availableParallelism } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { Failure } from './worker.js';

export interface Limits {
  seconds: number;
  megabytes: number;
}

/** What the threads are asked: a function of `worker.ts` and its argument. */
export interface Asked {
  task: 'inspect' | 'convert' | 'compare' | 'facts' | 'parts';
  job: unknown;
}

interface Waiting extends Asked {
  resolve: (answer: unknown) => void;
}

const SCRIPT = new URL('./thread.js', import.meta.url);

/**
 * Threads that take one file each. A thread that takes too long, needs too much memory or breaks is ended, its file is
 * given up in words, and the others go on.
 */
export class Pool {
  private readonly waiting: Waiting[] = [];
  private readonly idle: Worker[] = [];
  private running = 0;
  private readonly most: number;

  constructor(
    files: number,
    private readonly limits: Limits,
  ) {
    this.most = Math.max(1, Math.min(files, availableParallelism()));
  }

  run<T>(task: Asked['task'], job: unknown): Promise<T | Failure> {
    return new Promise((resolve) => {
      this.waiting.push({ task, job, resolve: resolve as (answer: unknown) => void });
      this.pump();
    });
  }

  private pump(): void {
    while (this.running < this.most && this.waiting.length > 0) this.start(this.waiting.shift()!);
  }

  private start({ task, job, resolve }: Waiting): void {
    this.running++;
    const worker = this.idle.pop() ?? this.thread();
    const done = (answer: unknown, usable: boolean): void => {
      clearTimeout(timer);
      // One by one: the thread listens to its own listeners coming and going.
      worker.off('message', answered).off('error', broke).off('exit', ended);
      if (usable) this.idle.push(worker);
      else void worker.terminate();
      this.running--;
      resolve(answer);
      this.pump();
    };
    const givenUp = (message: string, remedy: string): void =>
      done({ ok: false, kind: 'givenUp', message, remedy } satisfies Failure, false);
    const { seconds, megabytes } = this.limits;
    const answered = (answer: unknown): void => done(answer, true);
    const broke = (e: NodeJS.ErrnoException): void => {
      if (e.code === 'ERR_WORKER_OUT_OF_MEMORY')
        givenUp(
          `It needed more than ${megabytes} MB of memory and was stopped`,
          'Split the drawing, or raise --memory-limit.',
        );
      else
        givenUp(`This program made a mistake with it (${e.message})`, 'Nothing was written. Please report the file.');
    };
    const ended = (): void => givenUp('The thread that worked on it ended', 'Try it alone.');
    const timer = setTimeout(
      () => givenUp(`It took longer than ${seconds} s and was stopped`, 'Split the drawing, or raise --time-limit.'),
      seconds * 1000,
    );
    worker.once('message', answered).once('error', broke).once('exit', ended);
    worker.postMessage({ task, job } satisfies Asked);
  }

  private thread(): Worker {
    return new Worker(SCRIPT, { resourceLimits: { maxOldGenerationSizeMb: this.limits.megabytes } });
  }

  async close(): Promise<void> {
    await Promise.all(this.idle.map((w) => w.terminate()));
  }
}
