import { fileURLToPath } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { Proof } from '@scalaria/core';
import type { DeliverJob, DeliverResult, FontResult, ProveJob, ReadJob, ReadResult } from './worker.js';

/** Threads that do the heavy work, each with bounded memory and time. */
export class WorkerPool {
  private readonly piscina: Piscina;

  constructor(
    threads: number,
    memoryMb: number,
    private readonly timeMs: number,
  ) {
    this.piscina = new Piscina({
      filename: fileURLToPath(new URL('./worker.js', import.meta.url)),
      minThreads: 1,
      maxThreads: threads,
      idleTimeout: 60_000,
      resourceLimits: { maxOldGenerationSizeMb: memoryMb },
    });
  }

  private limited(signal: AbortSignal | undefined): AbortSignal {
    const timeout = AbortSignal.timeout(this.timeMs);
    return signal ? AbortSignal.any([signal, timeout]) : timeout;
  }

  read(job: ReadJob, signal?: AbortSignal): Promise<ReadResult> {
    return this.piscina.run(job, { name: 'read', signal: this.limited(signal) }) as Promise<ReadResult>;
  }

  font(job: { bytes: Uint8Array; name: string }): Promise<FontResult> {
    return this.piscina.run(job, { name: 'font', signal: this.limited(undefined) }) as Promise<FontResult>;
  }

  async deliver(
    job: Omit<DeliverJob, 'port'>,
    onProgress: (done: number) => void,
    signal?: AbortSignal,
  ): Promise<DeliverResult> {
    const { port1, port2 } = new MessageChannel();
    port1.on('message', (done: number) => onProgress(done));
    try {
      const options = { name: 'deliverAndProve', signal: this.limited(signal), transferList: [port2] };
      return (await this.piscina.run({ ...job, port: port2 }, options)) as DeliverResult;
    } finally {
      port1.close();
    }
  }

  prove(job: Omit<ProveJob, 'port'>): Promise<Proof> {
    return this.piscina.run(job, { name: 'proveCopy', signal: this.limited(undefined) }) as Promise<Proof>;
  }

  close(): Promise<void> {
    return this.piscina.destroy();
  }
}
