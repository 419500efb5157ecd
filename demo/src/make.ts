import { mkdirSync, writeFileSync } from 'node:fs';
import { frontElevation, sideElevation } from './elevations.js';
import { mullion } from './mullion.js';
import { panel } from './panel.js';

/** Writes the source drawings of the demo job beside this package. Deterministic: the files are committed. */
const folder = new URL('../files/', import.meta.url);
mkdirSync(folder, { recursive: true });
const latin1 = (text: string): Buffer => Buffer.from(text, 'latin1');
writeFileSync(new URL('kestrel-row-front-elevation.dxf', folder), latin1(frontElevation()));
writeFileSync(new URL('kestrel-row-side-elevation.dxf', folder), latin1(sideElevation()));
writeFileSync(new URL('kestrel-row-mullion.dxf', folder), latin1(mullion()));
writeFileSync(new URL('kestrel-row-wayfinding-panel.svg', folder), panel());
console.log('4 drawings written to demo/files');
