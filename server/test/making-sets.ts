import { execFileSync } from 'node:child_process';
import { mkdtempSync, readdirSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'vitest';
import type { Running } from './running.js';
import { ask } from './running.js';

export const DAY = '2026-11-30';
/** A drawing of so many layers with a line on each, and so many empty ones, in millimetres. */
export function layered(filled: number, empty: number, shift = 0): Uint8Array<ArrayBuffer> {
  const names = [...Array(filled).keys()].map((i) => `F${i}`).concat([...Array(empty).keys()].map((i) => `E${i}`));
  const layer = (n: string) => `0\nLAYER\n2\n${n}\n70\n0\n62\n7\n6\nCONTINUOUS\n`;
  const line = (n: string, i: number) => `0\nLINE\n8\n${n}\n10\n0\n20\n${i}\n11\n${10 + shift}\n21\n${i}\n`;
  const lines = names.slice(0, filled).map(line).join('');
  return new TextEncoder().encode(
    `0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1009\n9\n$INSUNITS\n70\n4\n0\nENDSEC\n0\nSECTION\n2\nTABLES\n0\nTABLE\n2\nLAYER\n70\n${names.length}\n${names.map(layer).join('')}0\nENDTAB\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n${lines}0\nENDSEC\n0\nEOF\n`,
  );
}

export const target = { format: 'dxf', version: '2010' };

/** What tests of sets ask of a server that runs by the time they ask. */
export function onServer(server: () => Running) {
  const at = (path: string): string => `${server().url}/api${path}`;
  const newJob = async (name: string): Promise<string> => (await ask(at('/jobs'), 'POST', { name })).body.id;
  const take = async (job: string, name: string, bytes: Uint8Array<ArrayBuffer>): Promise<string> => {
    const made = await ask(at(`/jobs/${job}/drawings?name=${encodeURIComponent(name)}`), 'POST', bytes);
    expect(made.status, JSON.stringify(made.body)).toBe(201);
    return made.body.id;
  };
  const keep = async (title: string, recipe: object, more: object = {}) => {
    const made = await ask(at('/recipes'), 'POST', { title, recipe: { recipe: 2, ...recipe }, ...more });
    expect(made.status, JSON.stringify(made.body)).toBe(201);
    return made.body;
  };
  /** Asks until every drawing has been looked at. */
  async function planned(job: string, body: object, url = server().url) {
    for (let i = 0; i < 200; i++) {
      const { status, body: plan } = await ask(`${url}/api/jobs/${job}/sets/plan`, 'POST', { date: DAY, ...body });
      if (status !== 200) return { status, ...plan };
      if (plan.looking === 0) return plan;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    throw new Error('drawings are looked at for ever');
  }
  async function ended(id: string, url = server().url) {
    for (let i = 0; i < 600; i++) {
      const { body } = await ask(`${url}/api/sets/${id}`);
      if (body.state !== 'working') return body;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
    throw new Error('a set is written for ever');
  }
  /** The archive of a set, unpacked by a program that is not ours. */
  async function unpacked(id: string, url = server().url): Promise<{ folder: string; names: string[]; bytes: Buffer }> {
    const bytes = Buffer.from(await (await fetch(`${url}/api/sets/${id}/archive`)).arrayBuffer());
    const folder = mkdtempSync(join(tmpdir(), 'scalaria-set-'));
    writeFileSync(join(folder, 'set.zip'), bytes);
    execFileSync('unzip', ['-q', 'set.zip', '-d', 'out'], { cwd: folder });
    return { folder: join(folder, 'out'), names: readdirSync(join(folder, 'out')).sort(), bytes };
  }
  return { at, newJob, take, keep, planned, ended, unpacked };
}
