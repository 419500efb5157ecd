import { fileURLToPath } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { Proof } from '@scalaria/core';
import type {
  DeliverJob,
  DeliverResult,
  FactsJob,
  FactsResult,
  FontJob,
  FontResult,
  ForecastResult,
  LookJob,
  LookResult,
  PartsJob,
  PartsResult,
  ProveJob,
  ReadJob,
  ReadResult,
  ReturnedJob,
  ReturnedResult,
  Said,
  TrialResult,
} from './worker.js';

/** A task took longer than is allowed and was ended. */
export class TookTooLong extends Error {
  override name = 'TookTooLong';
  constructor(readonly seconds: number) {
    super(`it took longer than the ${seconds} s that are allowed`);
  }
}

/**
 * Threads that do the heavy work, each with bounded memory and time. Deliveries, uploads and proofs have threads of their
 * own, so that none waits for another: a delivery may take minutes, and whoever uploads a file wants to see it now.
 */
export class WorkerPool {
  private readonly deliveries: Piscina;
  private readonly readings: Piscina;
  private readonly proofs: Piscina;

  constructor(
    threads: number,
    memoryMb: number,
    private readonly timeMs: number,
  ) {
    const lane = (maxThreads: number, minThreads: number): Piscina =>
      new Piscina({
        filename: fileURLToPath(new URL('./worker.js', import.meta.url)),
        minThreads,
        maxThreads,
        idleTimeout: 60_000,
        resourceLimits: { maxOldGenerationSizeMb: memoryMb },
      });
    this.deliveries = lane(threads, 0);
    this.readings = lane(threads, 1);
    this.proofs = lane(1, 0);
  }

  /**
   * Runs a task under the time limit, which counts from when the thread says that it begins: a task that waits for
   * others, or for its thread to start, has not used any of its time. The timer is held here until the task ends: a
   * signal made of signals may be collected before it fires, and the limit with it.
   */
  private async run<T>(
    lane: Piscina,
    name: string,
    job: object,
    { signal, onProgress }: { signal?: AbortSignal; onProgress?: (done: number) => void } = {},
  ): Promise<T> {
    const controller = new AbortController();
    const stop = (): void => controller.abort();
    let late = false;
    let timer: NodeJS.Timeout | undefined;
    const { port1, port2 } = new MessageChannel();
    port1.on('message', (said: Said) => {
      if (said !== 'begun') return onProgress?.(said);
      timer = setTimeout(() => {
        late = true;
        stop();
      }, this.timeMs);
    });
    if (signal?.aborted) stop();
    signal?.addEventListener('abort', stop);
    try {
      const options = { name, signal: controller.signal, transferList: [port2] as never };
      return (await lane.run({ ...job, port: port2 }, options)) as T;
    } catch (e) {
      throw late ? new TookTooLong(this.timeMs / 1000) : e;
    } finally {
      clearTimeout(timer);
      port1.close();
      signal?.removeEventListener('abort', stop);
    }
  }

  read(job: ReadJob, signal?: AbortSignal): Promise<ReadResult> {
    return this.run(this.readings, 'read', job, { signal });
  }

  font(job: FontJob): Promise<FontResult> {
    return this.run(this.readings, 'font', job);
  }

  deliver(job: DeliverJob, onProgress: (done: number) => void, signal?: AbortSignal): Promise<DeliverResult> {
    return this.run(this.deliveries, 'deliver', job, { signal, onProgress });
  }

  parts(job: PartsJob): Promise<PartsResult> {
    return this.run(this.readings, 'parts', job);
  }

  returned(job: ReturnedJob): Promise<ReturnedResult> {
    return this.run(this.proofs, 'returned', job);
  }

  look(job: LookJob): Promise<LookResult> {
    return this.run(this.readings, 'look', job);
  }

  facts(job: FactsJob): Promise<FactsResult> {
    return this.run(this.readings, 'facts', job);
  }

  trial(job: DeliverJob, signal?: AbortSignal): Promise<TrialResult> {
    return this.run(this.proofs, 'trial', job, { signal });
  }

  prove(job: ProveJob, signal?: AbortSignal): Promise<Proof> {
    return this.run(this.proofs, 'prove', job, { signal });
  }

  forecast(job: DeliverJob, signal?: AbortSignal): Promise<ForecastResult> {
    return this.run(this.proofs, 'forecast', job, { signal });
  }

  async close(): Promise<void> {
    await Promise.all([this.deliveries, this.readings, this.proofs].map((lane) => lane.destroy()));
  }
}
