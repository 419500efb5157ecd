import { parentPort } from 'node:worker_threads';
import type { Asked } from './pool.js';
import type { Failure } from './worker.js';
import { compare, convert, facts, inspect, parts } from './worker.js';

const TASKS = { inspect, convert, compare, facts, parts } as Record<Asked['task'], (job: never) => Promise<unknown>>;

parentPort?.on('message', async ({ task, job }: Asked) => {
  let answer: unknown;
  try {
    answer = await TASKS[task](job as never);
  } catch (e) {
    answer = {
      ok: false,
      kind: 'givenUp',
      message: `This program made a mistake with it (${e instanceof Error ? e.message : String(e)})`,
      remedy: 'Nothing was written. Please report the file.',
    } satisfies Failure;
  }
  parentPort?.postMessage(answer);
});
