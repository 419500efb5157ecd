import { describe, expect, it } from 'vitest';
import { NO_DECISIONS, deliver, prepare, readDrawing, targetFor } from '../../src/index.js';
import { bytesOf, fonts, textOf } from '../helpers.js';

/*
 * The law of the reader: what it claims to understand of an SVG changes what is written, or the ledger, when it changes. Each case is a
 * document with a gap (~), and two things that the gap may hold which a viewer shows, or a program reads, differently.
 */

const text = '<text x="5" y="40" font-family="Spline Sans" font-size="10" ~>Kestrel Row</text>';
const rect = '<rect x="10" y="10" width="40" height="30" fill="#a03020" stroke="#203050" stroke-width="3" ~/>';
const line = '<path d="M10 50C30 10 60 90 90 50" fill="none" stroke="#203050" stroke-width="6" ~/>';
const gradient = (kind: string, rest = ''): string =>
  `<${kind} id="g" ~><stop stop-color="#a00"/><stop offset=".6" stop-color="#0a0"/></${kind}><rect width="80" height="60" fill="url(#g)"/>${rest}`;
const marker =
  '<marker id="m" viewBox="0 0 10 10" ~><path d="M0 0L10 5L0 10Z" fill="#060"/></marker>' +
  '<path d="M10 50L50 20L90 50" fill="none" stroke="#000" marker-start="url(#m)" marker-mid="url(#m)" marker-end="url(#m)"/>';
const pattern =
  '<pattern id="p" width="12" height="10" ~><circle cx="4" cy="4" r="3" fill="#036"/></pattern><rect x="5" y="5" width="70" height="50" fill="url(#p)"/>';
const clip =
  '<clipPath id="c" ~><path d="M10 10h60v60h-60zM30 30h20v20h-20z" clip-rule="evenodd"/></clipPath><rect width="90" height="90" fill="#a00" clip-path="url(#c)"/>';
const along =
  '<path id="w" d="M10 70A40 40 0 0 1 90 70" fill="none"/><text font-family="Spline Sans" font-size="10"><textPath href="#w" ~>Kestrel</textPath></text>';
const picture =
  '<image x="10" y="10" width="60" height="40" href="data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAIAAAACCAIAAAD91JpzAAAAFklEQVR4nGP4z8DAwMDAxAADCBYAHfkDAh0Kk0EAAAAASUVORK5CYII=" ~/>';

type Case = [name: string, body: string, one: string, other: string];

/** One case for each of several attributes: `given` holds all of them, `other` is what the one in question becomes. */
const each = (what: string, body: string, given: string, other: string): Case[] =>
  [...given.matchAll(/(\w+)="[^"]*"/g)].map(([said, name]) => [
    `${what} ${name}`,
    body,
    given,
    given.replace(said!, `${name}="${other}"`),
  ]);
/** One case for each of several attributes that are not there, and then are. */
const added = (what: string, body: string, names: readonly string[], value: string): Case[] =>
  names.map((name) => [`${what} ${name}`, body, '', `${name}="${value}"`]);

const CASES: readonly Case[] = [
  // Shapes
  ...each('rect', '<rect ~ fill="#a00"/>', 'x="5" y="5" width="30" height="20" rx="2" ry="3"', '7'),
  ...each('ellipse', '<ellipse ~/>', 'cx="40" cy="50" rx="20" ry="10"', '17'),
  ...each('line', '<line stroke="#000" ~/>', 'x1="4" y1="5" x2="60" y2="70"', '33'),
  ['circle r', '<circle cx="50" cy="50" ~/>', 'r="20"', 'r="21"'],
  ['points', '<polygon ~/>', 'points="5,5 50,5 5,50"', 'points="5,5 51,5 5,50"'],
  ['d', '<path ~/>', 'd="M5 5h40v40z"', 'd="M5 5h40v41z"'],
  ['transform', rect, '', 'transform="rotate(10)"'],
  ['transform as a property', rect, '', 'style="transform:translate(5px,3px)"'],
  ['transform-origin', rect.replace('~', 'transform="rotate(20)" ~'), '', 'transform-origin="50 50"'],
  [
    'transform-box',
    rect.replace('~', 'transform="rotate(20)" transform-origin="50% 50%" ~'),
    '',
    'transform-box="fill-box"',
  ],
  ['pathLength of dashes', line, 'stroke-dasharray="4 2"', 'stroke-dasharray="4 2" pathLength="50"'],
  // Paint
  ['fill', '<rect width="40" height="30" ~/>', 'fill="#a00"', 'fill="#0a0"'],
  ['fill-opacity', rect, '', 'fill-opacity=".5"'],
  ['fill-rule', '<path d="M10 10h60v60h-60zM30 30h20v20h-20z" ~/>', 'fill-rule="nonzero"', 'fill-rule="evenodd"'],
  ['stroke', line.replace('stroke="#203050"', ''), 'stroke="#a00"', 'stroke="#0a0"'],
  ['stroke-width', line.replace('stroke-width="6"', ''), 'stroke-width="3"', 'stroke-width="4"'],
  ['stroke-opacity', line, '', 'stroke-opacity=".5"'],
  ['stroke-linecap', line, '', 'stroke-linecap="round"'],
  ['stroke-linejoin', line, '', 'stroke-linejoin="bevel"'],
  ['stroke-miterlimit', line, '', 'stroke-miterlimit="1.5"'],
  ['stroke-dasharray', line, '', 'stroke-dasharray="8 4"'],
  ['stroke-dasharray in percent', line, '', 'stroke-dasharray="8% 4%"'],
  ['stroke-dashoffset', line.replace('~', 'stroke-dasharray="8 4" ~'), '', 'stroke-dashoffset="3"'],
  ['vector-effect', `<g transform="scale(2)">${line}</g>`, '', 'vector-effect="non-scaling-stroke"'],
  ['opacity', rect, '', 'opacity=".5"'],
  ['opacity of a group', `<g ~>${rect.replace('~', '')}</g>`, '', 'opacity=".5"'],
  ['color', '<rect width="40" height="30" fill="currentColor" ~/>', 'color="#a00"', 'color="#0a0"'],
  ['paint-order', rect, '', 'paint-order="stroke"'],
  ['visibility', rect, '', 'visibility="hidden"'],
  ['display', rect, '', 'display="none"'],
  ['mix-blend-mode', rect, '', 'style="mix-blend-mode:multiply"'],
  ['mask', `<mask id="k"><rect width="20" height="20" fill="#fff"/></mask>${rect}`, '', 'mask="url(#k)"'],
  ['filter', `<filter id="f"><feGaussianBlur stdDeviation="2"/></filter>${rect}`, '', 'filter="url(#f)"'],
  [
    'custom property',
    `<style>:root{~}</style><rect width="9" height="9" style="fill:var(--ink)"/>`,
    '--ink:#a00',
    '--ink:#0a0',
  ],
  ['fill of a class', `<style>.a{~}</style><rect class="a" width="9" height="9"/>`, 'fill:#a00', 'fill:#0a0'],
  // Gradients
  ...added('linear gradient', gradient('linearGradient'), ['x1', 'y1', 'x2', 'y2'], '.3'),
  ...added('radial gradient', gradient('radialGradient'), ['cx', 'cy', 'r', 'fx', 'fy', 'fr'], '.3'),
  ['gradientUnits', gradient('linearGradient'), 'x2="40"', 'x2="40" gradientUnits="userSpaceOnUse"'],
  ['gradientTransform', gradient('linearGradient'), '', 'gradientTransform="rotate(30)"'],
  ['spreadMethod', gradient('linearGradient'), 'x2=".3"', 'x2=".3" spreadMethod="reflect"'],
  [
    'stop offset',
    '<linearGradient id="g"><stop stop-color="#a00"/><stop ~ stop-color="#0a0"/></linearGradient><rect width="80" height="60" fill="url(#g)"/>',
    'offset=".6"',
    'offset=".7"',
  ],
  [
    'stop-color',
    '<linearGradient id="g"><stop ~/><stop offset="1" stop-color="#0a0"/></linearGradient><rect width="80" height="60" fill="url(#g)"/>',
    'stop-color="#a00"',
    'stop-color="#b00"',
  ],
  [
    'stop-opacity',
    '<linearGradient id="g"><stop ~/><stop offset="1" stop-color="#0a0"/></linearGradient><rect width="80" height="60" fill="url(#g)"/>',
    '',
    'stop-opacity=".5"',
  ],
  [
    'stops of another gradient',
    '<linearGradient id="a"><stop stop-color="#a00"/></linearGradient><linearGradient id="b"><stop stop-color="#00a"/></linearGradient><linearGradient id="g" ~/><rect width="80" height="60" fill="url(#g)"/>',
    'href="#a"',
    'href="#b"',
  ],
  // Markers, patterns, clips
  ...each('marker', marker, 'markerWidth="8" markerHeight="8" refX="2" refY="5"', '4'),
  ['marker orient', marker, 'orient="auto"', 'orient="45"'],
  ['marker orient at the start', marker, 'orient="auto"', 'orient="auto-start-reverse"'],
  [
    'markerUnits',
    marker.replace('stroke="#000"', 'stroke="#000" stroke-width="3"'),
    '',
    'markerUnits="userSpaceOnUse"',
  ],
  ['patternUnits', pattern, 'patternUnits="userSpaceOnUse"', 'patternUnits="objectBoundingBox"'],
  [
    'patternTransform',
    pattern,
    'patternUnits="userSpaceOnUse"',
    'patternUnits="userSpaceOnUse" patternTransform="rotate(20)"',
  ],
  ['pattern x', pattern, 'patternUnits="userSpaceOnUse"', 'patternUnits="userSpaceOnUse" x="3"'],
  [
    'patternContentUnits',
    pattern,
    'patternUnits="userSpaceOnUse"',
    'patternUnits="userSpaceOnUse" patternContentUnits="objectBoundingBox"',
  ],
  ['clip-path', `<clipPath id="c"><rect width="30" height="30"/></clipPath>${rect}`, '', 'clip-path="url(#c)"'],
  [
    'clip-rule',
    clip.replace('clip-rule="evenodd"', '~').replace('~><path', '><path'),
    'clip-rule="evenodd"',
    'clip-rule="nonzero"',
  ],
  ['clipPathUnits', clip, '', 'clipPathUnits="objectBoundingBox"'],
  ['transform of a clip path', clip, '', 'transform="translate(9 4)"'],
  ['clip-path by a shape', rect, '', 'style="clip-path:circle(10px)"'],
  // References
  ['use x', '<g id="s"><circle r="5"/></g><use href="#s" ~/>', '', 'x="20"'],
  ['use href', '<g id="s"><circle r="5"/></g><g id="t"><circle r="6"/></g><use x="30" ~/>', 'href="#s"', 'href="#t"'],
  [
    'symbol viewBox',
    '<symbol id="s" ~><circle cx="5" cy="5" r="5"/></symbol><use href="#s" width="20" height="20"/>',
    'viewBox="0 0 10 10"',
    'viewBox="0 0 20 20"',
  ],
  [
    'use width',
    '<symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="5"/></symbol><use href="#s" ~/>',
    'width="20" height="20"',
    'width="10" height="10"',
  ],
  [
    'nested viewport',
    '<svg viewBox="0 0 10 10" ~><circle cx="5" cy="5" r="5"/></svg>',
    'width="20" height="20"',
    'width="30" height="30"',
  ],
  [
    'overflow of a nested viewport',
    '<svg width="20" height="20" ~><circle cx="20" cy="10" r="9"/></svg>',
    '',
    'overflow="visible"',
  ],
  [
    'preserveAspectRatio',
    '<svg width="40" height="20" viewBox="0 0 10 10" ~><circle cx="5" cy="5" r="4"/></svg>',
    '',
    'preserveAspectRatio="xMinYMin"',
  ],
  ['switch', '<switch><rect width="9" height="9" ~/><circle r="4"/></switch>', '', 'systemLanguage="xx"'],
  // Pictures
  ...each('picture', picture.replace(/ (x|y|width|height)="\d+"/g, ''), 'x="10" y="12" width="60" height="40"', '30'),
  ['preserveAspectRatio of a picture', picture, '', 'preserveAspectRatio="none"'],
  ['slice of a picture', picture, '', 'preserveAspectRatio="xMidYMid slice"'],
  // Text
  ['text x', text.replace('x="5"', ''), 'x="5"', 'x="6"'],
  ['text y', text.replace('y="40"', ''), 'y="40"', 'y="41"'],
  ['text dx', text, '', 'dx="0 2"'],
  ['text dy', text, '', 'dy="0 2"'],
  ['text rotate', text, '', 'rotate="10"'],
  ['textLength', text, '', 'textLength="90" lengthAdjust="spacingAndGlyphs"'],
  [
    'font-family',
    text.replace('font-family="Spline Sans"', ''),
    'font-family="Spline Sans"',
    'font-family="Source Serif 4"',
  ],
  [
    'families to fall back to',
    text.replace('font-family="Spline Sans"', ''),
    'font-family="Nowhere, Spline Sans"',
    'font-family="Nowhere, Source Serif 4"',
  ],
  ['font-size', text.replace('font-size="10"', ''), 'font-size="10"', 'font-size="11"'],
  ['font-weight', text, '', 'font-weight="700"'],
  ['font-style', text, '', 'font-style="italic"'],
  ['font', text, '', 'style="font:bold 16px Spline Sans"'],
  ['font-variant', text, '', 'font-variant="small-caps"'],
  ['font-stretch', text, '', 'font-stretch="condensed"'],
  ['text-anchor', text, '', 'text-anchor="middle"'],
  ['dominant-baseline', text, '', 'dominant-baseline="middle"'],
  [
    'alignment-baseline',
    text.replace('Kestrel Row', '<tspan ~>Kestrel</tspan>').replace('~', ''),
    '',
    'alignment-baseline="hanging"',
  ],
  [
    'baseline-shift',
    text.replace('Kestrel Row', 'Kestrel<tspan ~>2</tspan>').replace('~', ''),
    '',
    'baseline-shift="super"',
  ],
  ['letter-spacing', text, '', 'letter-spacing="2"'],
  ['word-spacing', text, '', 'word-spacing="4"'],
  ['text-decoration', text, '', 'text-decoration="underline"'],
  ['text-transform', text, '', 'style="text-transform:uppercase"'],
  ['writing-mode', text, '', 'writing-mode="tb"'],
  ['direction', text, '', 'direction="rtl"'],
  ['white space', text.replace('Kestrel Row', 'Kestrel   Row'), '', 'xml:space="preserve"'],
  ['stroke of text', text, '', 'stroke="#a00" stroke-width="1"'],
  ['text without a fill', text, '', 'fill="none" stroke="#000"'],
  ['fill of text', text, '', 'fill="#a00"'],
  [
    'gradient of text',
    `<linearGradient id="g"><stop stop-color="#a00"/></linearGradient>${text}`,
    '',
    'fill="url(#g)"',
  ],
  ['opacity of text', text, '', 'opacity=".5"'],
  ['text on a path', along, '', 'startOffset="20"'],
  ['side of a path', along, '', 'side="right"'],
  ['method on a path', along, '', 'method="stretch"'],
  // Names
  ['id of a layer', '<g ~><rect width="9" height="9"/></g>', 'id="Cut"', 'id="Fold"'],
  ['id of a shape', rect, 'id="a"', 'id="b"'],
  ['id that no name can be', rect, 'id="a:b"', 'id="a:c"'],
  ['class', rect, '', 'class="cut"'],
  ['data', rect, '', 'data-depth="12"'],
  ['title of a shape', '<rect width="9" height="9">~</rect>', '', '<title>Post 3</title>'],
  ['description', '<rect width="9" height="9">~</rect>', '', '<desc>galvanised</desc>'],
  ['title of a group', '<g>~<rect width="9" height="9"/></g>', '', '<title>Fixings</title>'],
  ['link', '<a ~><rect width="9" height="9"/></a>', '', 'href="#top"'],
  ['animation', '<rect width="9" height="9">~</rect>', '', '<animate attributeName="x" to="9" dur="1s"/>'],
];

/** What becomes of a document: the file, and all that is told on the way. */
function outcome(body: string, given: string): string {
  const bytes = bytesOf(
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="100mm" height="100mm" viewBox="0 0 100 100">${body.replace('~', given)}</svg>`,
  );
  const { drawing, ledger } = readDrawing(bytes, 'a.svg');
  const prepared = prepare(drawing, NO_DECISIONS, [], { fonts: fonts() });
  const made = deliver(prepared.drawing, targetFor('svg'), 'a.svg', fonts());
  const told = [...ledger, ...prepared.ledger, ...made.ledger].map((r) => [r.carryOver, r.action, r.reason, r.count]);
  return textOf(made.bytes) + JSON.stringify(told);
}

describe('a change in a source changes what is written, or the ledger', () => {
  it.each(CASES)('%s', (_, body, one, other) => {
    expect(body).toContain('~');
    expect(outcome(body, other)).not.toBe(outcome(body, one));
  });
});
