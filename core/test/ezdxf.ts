import { execFileSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

/** Debian's python3-ezdxf: an independent reader and maker of DXF files. */
export const PYTHON = '/usr/bin/python3';

/** Whether it is installed; says loudly what is skipped where it is not. */
export function hasEzdxf(skipped: string): boolean {
  try {
    execFileSync(PYTHON, ['-c', 'import ezdxf'], { stdio: 'ignore' });
    return true;
  } catch {
    console.warn(`SKIPPED: python3-ezdxf is not installed, so ${skipped}`);
    return false;
  }
}

/** Runs one of the scripts in `dxf/oracle`; answers with what it printed. */
export const runEzdxf = (script: string, ...args: string[]): string =>
  execFileSync(PYTHON, [fileURLToPath(new URL(`./dxf/oracle/${script}`, import.meta.url)), ...args], {
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });
