import { fileURLToPath } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { Proof } from '@scalaria/core';
import type { DeliverJob, DeliverResult, FontResult, ProveJob, ReadJob, ReadResult } from './worker.js';

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
   * Runs a task under the time limit. The timer is held here until the task ends: a signal made of signals may be
   * collected before it fires, and the limit with it.
   */
  private async run<T>(
    lane: Piscina,
    name: string,
    job: unknown,
    signal?: AbortSignal,
    transferList?: readonly unknown[],
  ): Promise<T> {
    const controller = new AbortController();
    const stop = (): void => controller.abort();
    let late = false;
    const timer = setTimeout(() => {
      late = true;
      stop();
    }, this.timeMs);
    if (signal?.aborted) stop();
    signal?.addEventListener('abort', stop);
    try {
      const options = {
        name,
        signal: controller.signal,
        ...(transferList && { transferList: transferList as never }),
      };
      return (await lane.run(job, options)) as T;
    } catch (e) {
      throw late ? new TookTooLong(this.timeMs / 1000) : e;
    } finally {
      clearTimeout(timer);
      signal?.removeEventListener('abort', stop);
    }
  }

  read(job: ReadJob, signal?: AbortSignal): Promise<ReadResult> {
    return this.run(this.readings, 'read', job, signal);
  }

  font(job: { bytes: Uint8Array; name: string }): Promise<FontResult> {
    return this.run(this.readings, 'font', job);
  }

  async deliver(
    job: Omit<DeliverJob, 'port'>,
    onProgress: (done: number) => void,
    signal?: AbortSignal,
  ): Promise<DeliverResult> {
    const { port1, port2 } = new MessageChannel();
    port1.on('message', (done: number) => onProgress(done));
    try {
      return await this.run(this.deliveries, 'deliverAndProve', { ...job, port: port2 }, signal, [port2]);
    } finally {
      port1.close();
    }
  }

  prove(job: Omit<ProveJob, 'port'>, signal?: AbortSignal): Promise<Proof> {
    return this.run(this.proofs, 'proveCopy', job, signal);
  }

  async close(): Promise<void> {
    await Promise.all([this.deliveries, this.readings, this.proofs].map((lane) => lane.destroy()));
  }
}
