import type { ChildProcess } from 'node:child_process';
import { spawn } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const MAIN = fileURLToPath(new URL('../server/dist/main.js', import.meta.url));
export const demoFile = (name: string): string => fileURLToPath(new URL(`../demo/files/${name}`, import.meta.url));

/** The real application on a data folder of its own; it can be stopped and started again on the same one. */
export class Application {
  readonly folder = mkdtempSync(join(tmpdir(), 'scalaria-e2e-'));
  url = '';
  private child: ChildProcess | null = null;

  async start(): Promise<void> {
    const port = this.url ? new URL(this.url).port : '0';
    const env = { ...process.env, SCALARIA_DATA: this.folder, SCALARIA_PORT: port };
    const child = spawn(process.execPath, [MAIN], { env, stdio: ['ignore', 'pipe', 'inherit'] });
    this.child = child;
    this.url = await new Promise<string>((resolve, reject) => {
      let said = '';
      child.stdout.on('data', (d: Buffer) => {
        said += d.toString();
        const url = /ready at (\S+)/.exec(said)?.[1];
        if (url) resolve(url);
      });
      child.once('exit', (code) => reject(new Error(`the server ended with ${code}`)));
    });
  }

  async stop(signal: NodeJS.Signals = 'SIGTERM'): Promise<void> {
    const child = this.child!;
    const ended = new Promise<void>((resolve) => child.once('exit', () => resolve()));
    child.kill(signal);
    await ended;
  }
}
