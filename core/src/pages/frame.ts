import { powerOfTen, tensOf } from '../geometry/power-of-ten.js';
import type { CarryOverState } from '../drawing/state-shape.js';
import { STATE_WORDS, stateShape } from '../drawing/state-shape.js';
import { previewScale } from '../scene/preview.js';

/*
 * What pages that leave the application are made of: one HTML file each, no scripts, no links, nothing that is fetched, so that
 * whoever gets one can read it without the application.
 */

/** Text as it may stand in HTML, between tags and in attributes. */
export const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c]!);

const STYLE = `
:root{--paper:#f4efe4;--sheet:#fbf8f1;--ink:#1d2530;--rule:#cfc5b0;--quiet:#5d594e;--alarm:#97351b}
body{font:15px/1.45 'Spline Sans',sans-serif;color:var(--ink);background:var(--paper);margin:0 auto;max-width:54rem;padding:1.5rem 1.5rem 4rem}
header{display:flex;align-items:center;gap:.5rem;border-bottom:1px solid var(--ink);padding-bottom:.6rem;font-weight:700}
h1{font-size:1.5rem;margin:1.25rem 0 .25rem;overflow-wrap:anywhere}h2{font-size:1.1rem;margin:2rem 0 .4rem;border-bottom:1px solid var(--ink)}
table{border-collapse:collapse;width:100%}td,th{text-align:left;padding:.25rem .75rem .25rem 0;border-bottom:1px solid var(--rule);vertical-align:top;overflow-wrap:anywhere}
th{font-weight:400;font-size:.85em;color:var(--quiet);white-space:nowrap}td.n,th.n{text-align:right}td.n{white-space:nowrap}
.num,td.n{font-family:'Spline Sans Mono',monospace;font-variant-numeric:tabular-nums;font-size:.93em}
.quiet{color:var(--quiet)}.alarm{color:var(--alarm)}
.strip{display:grid;grid-template-columns:repeat(4,1fr);margin:1rem 0;padding:0;list-style:none;border:solid var(--rule);border-width:1px 0 0 1px}
.strip li{border:solid var(--rule);border-width:0 1px 1px 0;padding:.35rem .6rem}.strip b{font-weight:500;text-transform:capitalize;display:block}
figure{margin:1rem 0;border:1px solid var(--rule);background:var(--sheet);padding:.5rem}figure>div{width:min(100%,46rem);margin:auto}figure>div>svg{width:100%;height:auto;display:block}
.swatch{display:inline-block;width:1em;height:1em;border:1px solid var(--ink);vertical-align:-.1em;margin-right:.5em}
.verdict{font-size:1.15rem;font-weight:600;margin:.75rem 0}.places{display:grid;grid-template-columns:repeat(auto-fill,minmax(16rem,1fr));gap:1rem}.places figure{margin:0}
figcaption{font-size:.9em;padding-top:.4rem}nav ol{columns:2;padding-left:1.5rem}a{color:inherit}section{break-before:auto;margin-top:3rem;border-top:3px double var(--rule)}
@media print{body{background:none;padding:0}h2{break-after:avoid}tr{break-inside:avoid}}`;

const MARK =
  '<svg width="26" height="18" viewBox="0 0 26 18" aria-hidden="true"><g fill="none" stroke="currentColor" stroke-width="1.3"><rect x=".7" y="2" width="24.6" height="5"/><rect x=".7" y="11" width="24.6" height="5"/></g><g fill="currentColor"><rect x="1" y="2" width="6" height="5"/><rect x="13" y="2" width="6" height="5"/><rect x="7" y="11" width="6" height="5"/><rect x="19" y="11" width="6" height="5"/></g></svg>';

/** Fonts to be held in a page, as `data:` addresses, so that it looks the same wherever it is read. */
export type PageFont = { readonly family: string; readonly weight: number; readonly address: string };

/** A figure as it stands in a page, to seven digits. */
export const figure = (v: number): string => String(Number(v.toPrecision(7)));

/** A whole page. `title` is plain text, `body` HTML. */
export function pageOf(title: string, body: readonly string[], fonts: readonly PageFont[] = []): string {
  const faces = fonts
    .map((f) => `@font-face{font-family:'${f.family}';font-weight:${f.weight};src:url(${f.address}) format('woff2')}`)
    .join('');
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${escaped(title)}</title><style>${faces}${STYLE}</style></head><body>${[`<header>${MARK}Scalaria</header>`, ...body].join('\n')}</body></html>`;
}

/** The states of the carry-overs, by shape and word. */
export function stripList(strip: readonly { carryOver: string; state: CarryOverState }[]): string {
  const item = ({ carryOver, state }: (typeof strip)[number]): string => {
    const { path, fill } = stateShape(state, 44, 9);
    const alarm = state === 'atRisk' || state === 'lost';
    const paint =
      fill === 'full'
        ? 'fill="currentColor"'
        : `fill="${fill === 'hatched' ? '#97351b55' : 'none'}" stroke="currentColor"`;
    return `<li${alarm ? ' class="alarm"' : ''}><b>${escaped(carryOver)}</b><svg width="44" height="9" viewBox="0 0 44 9" aria-hidden="true"><path d="${path}" ${paint}/></svg> ${STATE_WORDS[state]}</li>`;
  };
  return `<ul class="strip">${strip.map(item).join('')}</ul>`;
}

/** A scale bar as long as its length is in the picture above it, which is as wide as what holds both. */
export function scaleBar(
  box: { empty: boolean; width: number; height: number },
  unit: string,
  [WIDTH, HEIGHT]: readonly [number, number],
): string {
  if (box.empty || !(Math.max(box.width, box.height) > 0)) return '';
  const across = WIDTH / previewScale(box, WIDTH, HEIGHT);
  const most = across * 0.3;
  const power = powerOfTen(tensOf(most));
  const length = [5, 2, 1].map((k) => k * power).find((l) => l <= most) ?? power;
  const part = (length / across) * 100;
  const segments = [0, 1, 2, 3]
    .map((i) => `<rect x="${i * 25}" width="25" height="6" fill="${i % 2 ? '#fbf8f1' : '#1d2530'}" stroke="#1d2530"/>`)
    .join('');
  return `<div class="bar" style="width:${part.toFixed(2)}%"><div class="num" style="display:flex;justify-content:space-between"><span>0</span><span>${figure(length)} ${unit}</span></div><svg viewBox="0 0 100 6" preserveAspectRatio="none" style="width:100%;height:7px;display:block" aria-hidden="true">${segments}</svg></div>`;
}

/** A table of cells that are HTML already; a column whose head ends in `#` holds figures. */
export function tableOf(head: readonly string[], rows: readonly (readonly string[])[]): string {
  const ends = head.map((h) => h.endsWith('#'));
  const cell = (tag: 'td' | 'th', i: number, text: string): string =>
    `<${tag}${ends[i] ? ' class="n"' : ''}>${text}</${tag}>`;
  const line = (tag: 'td' | 'th', cells: readonly string[]): string =>
    `<tr>${cells.map((c, i) => cell(tag, i, c)).join('')}</tr>`;
  return `<table>${line(
    'th',
    head.map((h) => h.replace(/#$/, '')),
  )}${rows.map((r) => line('td', r)).join('\n')}</table>`;
}

/** A colour with its digits. */
export const swatch = (hex: string): string =>
  /^#[0-9a-f]{6}$/i.test(hex) ? `<span class="swatch" style="background:${hex}"></span>${hex}` : escaped(hex);
