import { mkdirSync, writeFileSync } from 'node:fs';
import { emblem } from './emblem.js';
import { emblemScan } from './emblem-scan.js';
import { frontElevation, sideElevation } from './elevations.js';
import { leaflet } from './leaflet.js';
import { mullion } from './mullion.js';
import { panel } from './panel.js';
import { plan } from './plan.js';
import { screenPanels } from './screen-panels.js';
import { section } from './section.js';
import { signStudy } from './sign-study.js';
import { sketch } from './sketch.js';
import { FontBook, formatById } from '@scalaria/core';

/** Writes the source drawings of the demo job beside this package. Deterministic: the files are committed. */
const folder = new URL('../files/', import.meta.url);
mkdirSync(folder, { recursive: true });
const latin1 = (text: string): Buffer => Buffer.from(text, 'latin1');
writeFileSync(new URL('kestrel-row-front-elevation.dxf', folder), latin1(frontElevation()));
writeFileSync(new URL('kestrel-row-side-elevation.dxf', folder), latin1(sideElevation()));
writeFileSync(new URL('kestrel-row-mullion.dxf', folder), latin1(mullion()));
writeFileSync(new URL('kestrel-row-wayfinding-panel.svg', folder), panel());
const { bytes } = formatById('dxf')!.write(section(), { version: '2018', unit: 'mm', fonts: new FontBook([]) });
writeFileSync(new URL('kestrel-row-section.dxf', folder), bytes);
const site = formatById('dwg')!.write(plan(), {
  version: '2004',
  unit: 'mm',
  unitless: true,
  title: 'Kestrel Row, site plan',
  fonts: new FontBook([]),
});
writeFileSync(new URL('kestrel-row-site-plan.dwg', folder), site.bytes);
writeFileSync(new URL('kestrel-row-sign-study.svg', folder), signStudy());
writeFileSync(new URL('kestrel-row-sketch.png', folder), sketch());
writeFileSync(new URL('kestrel-row-route-emblem.svg', folder), emblem());
writeFileSync(new URL('kestrel-row-emblem-scan.png', folder), emblemScan());
writeFileSync(new URL('kestrel-row-screen-panels.dxf', folder), latin1(screenPanels()));
writeFileSync(new URL('kestrel-row-leaflet.pdf', folder), latin1(leaflet()));
console.log('10 drawings and two pictures written to demo/files');
