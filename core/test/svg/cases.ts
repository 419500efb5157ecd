/**
 * Drawings on a page of 100 × 100, one for each thing the standard has a chapter on. Every element in them is seen, and
 * large enough that leaving it out changes the picture.
 */
export interface PictureCase {
  name: string;
  body: string;
  /** Attributes of the outermost element in place of the usual ones. */
  root?: string;
  /** What of it cannot come out alike, and why; such a case must not come out alike. */
  miss?: string;
  /** Where resvg and Chromium draw it differently, and how. */
  disputed?: string;
}

const star = 'M50 5L79 95L3 39H97L21 95Z';
const text = 'font-family="Spline Sans" font-size="24"';

export const CASES: readonly PictureCase[] = [
  // Basic shapes
  { name: 'rect', body: '<rect x="10" y="20" width="60" height="50"/>' },
  { name: 'rect with round corners', body: '<rect x="10" y="20" width="70" height="50" rx="15" ry="8" fill="#068"/>' },
  { name: 'rect with one radius, clamped', body: '<rect x="10" y="20" width="70" height="30" rx="60" fill="#068"/>' },
  { name: 'circle', body: '<circle cx="50" cy="50" r="40" fill="teal"/>' },
  {
    name: 'ellipse, turned',
    body: '<ellipse cx="50" cy="50" rx="40" ry="15" transform="rotate(30 50 50)" fill="#a30"/>',
  },
  { name: 'ellipse with one radius', body: '<ellipse cx="50" cy="50" rx="30" fill="#a30"/>' },
  {
    name: 'lines',
    body: '<g stroke="#000" stroke-width="6"><line x1="10" y1="10" x2="90" y2="40"/><line x1="10" y1="90" x2="90" y2="60"/></g>',
  },
  {
    name: 'polyline with its fill',
    body: '<polyline points="10,10 90,20,50 90" fill="#fc0" stroke="#000" stroke-width="4"/>',
  },
  { name: 'polygon', body: '<polygon points="50,5 95,95 5,95" fill="#393"/>' },
  // Paths
  { name: 'path of lines, absolute and relative', body: '<path d="M10 10H90v30h-40V90l-40-20z" fill="#246"/>' },
  {
    name: 'cubics and their short forms',
    body: '<path d="M5 50C5 10 45 10 50 50S95 90 95 50" fill="none" stroke="#c06" stroke-width="8"/>',
  },
  {
    name: 'quadratics and their short forms',
    body: '<path d="M5 50Q25 0 50 50T95 50" fill="none" stroke="#c06" stroke-width="8"/>',
  },
  {
    name: 'arcs with all flags',
    body: '<g fill="none" stroke-width="4"><path stroke="red" d="M30 30A25 15 20 0 0 70 50"/><path stroke="green" d="M30 30A25 15 20 1 0 70 50"/><path stroke="blue" d="M30 30A25 15 20 0 1 70 50"/><path stroke="#f90" d="M30 30A25 15 20 1 1 70 50"/></g>',
  },
  {
    name: 'arcs whose radii are too small',
    body: '<path d="M10 50A5 3 30 0 1 90 50" fill="#bbb" stroke="#000" stroke-width="5"/>',
  },
  {
    name: 'arcs with packed flags',
    body: '<path d="M10 80a40 40 0 0180 0a40 30 0 01-80 0" fill="#bde" stroke="#000" stroke-width="4"/>',
  },
  {
    name: 'arcs without a radius are lines',
    body: '<path d="M10 20A0 10 0 0 1 90 80" stroke="#000" stroke-width="7"/>',
  },
  {
    name: 'subpaths after a close',
    body: '<path d="M10 10h30v30z l0 50 h60" fill="none" stroke="#000" stroke-width="5"/>',
  },
  {
    name: 'an error in path data ends the path',
    body: '<path d="M10 10L90 10L90 90 x 20" fill="none" stroke="#000" stroke-width="8"/>',
  },
  {
    name: 'numbers run together',
    body: '<path d="M10.5.5 90-.5L90 90-1e1 9e1" transform="translate(5 5) scale(.9)" fill="#579"/>',
  },
  // Fill
  { name: 'nonzero', body: `<path d="${star}" fill="#c90"/>` },
  { name: 'evenodd', body: `<path d="${star}" fill="#c90" fill-rule="evenodd"/>` },
  { name: 'holes by direction', body: '<path d="M5 5h90v90h-90zM25 25v50h50v-50z" fill="#555"/>' },
  {
    name: 'opacity of fill and stroke',
    body: '<rect x="20" y="20" width="60" height="60" fill="red" fill-opacity=".4" stroke="blue" stroke-opacity=".6" stroke-width="12"/>',
  },
  {
    name: 'group opacity over shapes apart',
    body: '<g opacity=".5"><rect x="5" y="5" width="40" height="90"/><rect x="55" y="5" width="40" height="90" fill="red"/></g>',
  },
  {
    name: 'group opacity over shapes that overlap',
    body: '<g opacity=".5"><rect x="5" y="5" width="60" height="60"/><rect x="35" y="35" width="60" height="60" fill="red"/></g>',
    miss: 'a group is not blended as a whole: what overlaps in it shows through',
  },
  {
    name: 'colours in every syntax',
    body: '<rect width="25" height="100" fill="rgb(100%, 20%, 0%)"/><rect x="25" width="25" height="100" fill="hsl(120 60% 40%)"/><rect x="50" width="25" height="100" fill="cornflowerblue"/><rect x="75" width="25" height="100" fill="#8a4c"/>',
  },
  {
    name: 'currentColor',
    body: '<g color="purple"><rect x="10" y="10" width="80" height="40" fill="currentColor"/><rect x="10" y="60" width="80" height="30" fill="none" stroke="currentColor" stroke-width="6"/></g>',
  },
  // Stroke
  {
    name: 'caps',
    body: '<g stroke="#000" stroke-width="16"><path d="M20 20H80"/><path d="M20 50H80" stroke-linecap="round"/><path d="M20 80H80" stroke-linecap="square"/></g>',
  },
  {
    name: 'joins',
    body: '<g fill="none" stroke="#000" stroke-width="12"><path d="M10 40L30 10L50 40"/><path d="M50 40L70 10L90 40" stroke-linejoin="round"/><path d="M10 90L30 60L50 90" stroke-linejoin="bevel"/><path d="M55 90L70 55L85 90" stroke-miterlimit="1"/></g>',
  },
  {
    name: 'dashes with a phase',
    body: '<g stroke="#000" stroke-width="8"><path d="M5 20H95" stroke-dasharray="12 6"/><path d="M5 50H95" stroke-dasharray="12 6 3" stroke-dashoffset="9"/><path d="M5 80H95" stroke-dasharray="0 14" stroke-linecap="round"/></g>',
  },
  {
    name: 'a stroke that does not scale',
    body: '<g transform="scale(4)"><path d="M4 6H20" stroke="#000" stroke-width="5" vector-effect="non-scaling-stroke"/><path d="M4 18H20" stroke="#000" stroke-width="1"/></g>',
    disputed: 'resvg scales such a stroke all the same',
  },
  {
    name: 'a stroke under an unequal scale',
    body: '<path transform="scale(1 3)" d="M10 5H90V28" fill="none" stroke="#000" stroke-width="6"/>',
    miss: 'a pen that is wider one way than the other becomes a round one of the mean width',
  },
  {
    name: 'paint order',
    body: '<path d="M15 15H85V85H15Z" fill="#fd0" stroke="#036" stroke-width="24" paint-order="stroke"/>',
  },
  // Style
  {
    name: 'class, id and type rules',
    body: '<style>rect{fill:red}.b{fill:blue}#c{fill:green}</style><rect width="30" height="100"/><rect class="a b" x="35" width="30" height="100"/><rect id="c" class="b" x="70" width="30" height="100"/>',
  },
  {
    name: 'specificity and importance',
    body: '<style>g rect{fill:red}rect{fill:blue!important}.x{fill:lime}</style><g><rect class="x" width="45" height="100"/></g><rect class="x" style="fill:black" x="55" width="45" height="100"/>',
    disputed: 'resvg lets a stronger selector win over !important',
  },
  {
    name: 'combinators and attributes',
    body: '<style>g>rect+rect{fill:orange}rect[width="20"]{fill:teal}rect[class~="k"]{stroke:#000;stroke-width:6}</style><g><rect width="30" height="90"/><rect x="35" width="30" height="90"/><rect class="j k" x="75" y="5" width="20" height="80"/></g>',
  },
  {
    name: 'style beats attribute, inheritance',
    body: '<g fill="red" style="stroke:#000"><rect x="10" y="10" width="35" height="80" fill="lime" style="fill:navy"/><rect x="55" y="10" width="35" height="80" stroke-width="6"/></g>',
  },
  {
    name: 'custom properties',
    body: '<style>:root{--ink:#a06}</style><rect style="fill:var(--ink)" x="10" y="10" width="80" height="30"/><rect style="fill:var(--none, #0a6)" x="10" y="55" width="80" height="30"/>',
    disputed: 'resvg knows no custom properties',
  },
  {
    name: 'hidden content',
    body: '<rect x="10" y="10" width="80" height="35"/><rect display="none" width="100" height="100" fill="red"/><g visibility="hidden"><rect width="100" height="100" fill="red"/><rect visibility="visible" x="10" y="55" width="80" height="35" fill="green"/></g>',
  },
  // Coordinate systems
  {
    name: 'transforms in a chain',
    body: '<rect transform="translate(50 50) rotate(30) scale(1.5 .5) skewX(20)" x="-25" y="-25" width="50" height="50" fill="#639"/>',
  },
  { name: 'matrix with a mirror', body: '<path transform="matrix(-1 0 .2 1 90 5)" d="M0 0H60L40 80Z" fill="#639"/>' },
  {
    name: 'transform-origin',
    body: '<rect x="30" y="30" width="40" height="40" transform="rotate(45)" transform-origin="50 50" fill="#393"/>',
    disputed: 'resvg knows no transform-origin',
  },
  {
    name: 'nested svg with viewBox',
    body: '<svg x="10" y="10" width="80" height="40" viewBox="0 0 10 10"><rect width="10" height="10" fill="#47a"/><circle cx="5" cy="5" r="3" fill="#fff"/></svg><svg x="10" y="60" width="80" height="30" viewBox="0 0 10 10" preserveAspectRatio="none"><rect width="10" height="10" fill="#a74"/></svg>',
  },
  {
    name: 'nested svg cuts what leaves it',
    body: '<svg x="20" y="20" width="60" height="60"><circle cx="0" cy="0" r="50" fill="#47a"/></svg>',
  },
  {
    name: 'meet and slice at the edges',
    body: '<svg width="100" height="45" viewBox="0 0 10 10" preserveAspectRatio="xMinYMin meet"><rect width="10" height="10" fill="#47a"/></svg><svg y="55" width="100" height="45" viewBox="0 0 10 10" preserveAspectRatio="xMidYMax slice"><circle cx="5" cy="5" r="5" fill="#a74"/></svg>',
  },
  {
    name: 'percentages',
    body: '<rect x="10%" y="20%" width="50%" height="25%"/><circle cx="70%" cy="70%" r="20%" fill="red"/>',
    root: 'width="200" height="100" viewBox="0 0 200 100"',
  },
  {
    name: 'units',
    body: '<rect x="1mm" y=".1in" width="12pt" height="20mm"/><rect x="2pc" y="2em" width="1cm" height="30" fill="red"/>',
    disputed: 'resvg counts 12 user units to the em where no size of font is stated',
  },
  {
    name: 'a page that is not square',
    root: 'width="160" height="80" viewBox="0 0 100 100"',
    body: '<circle cx="50" cy="50" r="45" fill="#369"/>',
  },
  // Structure
  {
    name: 'use with a place',
    body: '<defs><g id="u"><rect width="30" height="30"/></g></defs><use href="#u" x="5" y="5" fill="red"/><use href="#u" transform="translate(60 60) rotate(20)" fill="blue"/>',
  },
  {
    name: 'symbol with viewBox',
    body: '<symbol id="s" viewBox="0 0 10 10"><circle cx="5" cy="5" r="5"/></symbol><use href="#s" x="5" y="5" width="40" height="40" fill="teal"/><use href="#s" x="50" y="50" width="50" height="30"/>',
  },
  {
    name: 'use of a use',
    body: '<defs><rect id="a" width="20" height="20"/><g id="b"><use href="#a"/><use href="#a" x="25"/></g></defs><use href="#b" y="10" x="10"/><use href="#b" y="60" x="10" fill="red"/>',
  },
  {
    name: 'switch',
    body: '<switch><rect requiredExtensions="none" width="100" height="100" fill="red"/><rect systemLanguage="fr" width="100" height="100" fill="red"/><circle cx="50" cy="50" r="40" fill="green"/><rect width="100" height="100"/></switch>',
  },
  // Clipping
  {
    name: 'clip by a circle',
    body: '<clipPath id="c"><circle cx="50" cy="50" r="35"/></clipPath><g clip-path="url(#c)"><rect width="100" height="60" fill="#c60"/><rect y="60" width="100" height="40" fill="#06c"/></g>',
  },
  {
    name: 'clip by several shapes and evenodd',
    body: `<clipPath id="c"><path clip-rule="evenodd" d="${star}"/><rect x="40" y="40" width="20" height="55"/></clipPath><rect clip-path="url(#c)" width="100" height="100" fill="#393"/>`,
    disputed: 'Chromium takes the shapes of a clip path together by the evenodd rule of one of them',
  },
  {
    name: 'clip of a clip',
    body: '<clipPath id="a"><rect width="70" height="100"/></clipPath><clipPath id="b" clip-path="url(#a)"><circle cx="50" cy="50" r="45"/></clipPath><rect clip-path="url(#b)" width="100" height="100" fill="#936"/>',
  },
  {
    name: 'clip measured by the box',
    body: '<clipPath id="c" clipPathUnits="objectBoundingBox"><circle cx=".5" cy=".5" r=".5"/></clipPath><rect clip-path="url(#c)" x="10" y="30" width="80" height="40" fill="#369"/>',
  },
  {
    name: 'clip of a curve with holes',
    body: '<clipPath id="c"><path d="M50 5C95 5 95 95 50 95S5 5 50 5Z"/></clipPath><path clip-path="url(#c)" fill-rule="evenodd" d="M0 0H100V100H0ZM30 30A20 20 0 0 1 70 30V70H30Z" fill="#693"/>',
  },
  {
    name: 'clip of thin lines',
    body: '<clipPath id="c"><circle cx="50" cy="50" r="40"/></clipPath><g clip-path="url(#c)" stroke="#000" stroke-width="1"><path d="M0 30H100"/><path d="M0 50L100 60"/><path d="M0 75Q50 60 100 90" fill="none"/></g>',
  },
  {
    name: 'clip of a thick line',
    body: '<clipPath id="c"><path d="M0 0L100 0L0 100Z"/></clipPath><path clip-path="url(#c)" d="M0 40H100" stroke="#000" stroke-width="30"/>',
    miss: 'a line is cut along its middle: its end is square, not along the edge of the clip',
  },
  // Markers
  {
    name: 'markers along a line',
    body: '<marker id="m" markerWidth="4" markerHeight="4" refX="2" refY="2" orient="auto"><path d="M0 0L4 2L0 4Z" fill="#c00"/></marker><path d="M15 80L40 20L60 60L85 20" fill="none" stroke="#000" stroke-width="4" marker-start="url(#m)" marker-mid="url(#m)" marker-end="url(#m)"/>',
  },
  {
    name: 'markers in user units, turned over at the start',
    body: '<marker id="m" markerUnits="userSpaceOnUse" markerWidth="20" markerHeight="20" viewBox="0 0 10 10" refX="5" refY="5" orient="auto-start-reverse"><path d="M0 0L10 5L0 10Z" fill="#060"/></marker><path d="M20 70C20 20 80 20 80 70" fill="none" stroke="#000" stroke-width="3" marker-start="url(#m)" marker-end="url(#m)"/>',
    disputed: 'resvg takes auto-start-reverse for auto',
  },
  // Paint servers
  {
    name: 'linear gradient',
    body: '<linearGradient id="g"><stop stop-color="red"/><stop offset=".4" stop-color="#fd0"/><stop offset="1" stop-color="blue"/></linearGradient><rect x="5" y="5" width="90" height="90" fill="url(#g)"/>',
  },
  {
    name: 'linear gradient, turned and repeated',
    body: '<linearGradient id="g" x2=".3" gradientTransform="rotate(40)" spreadMethod="reflect"><stop stop-color="#fff"/><stop offset="1" stop-color="#036"/></linearGradient><circle cx="50" cy="50" r="45" fill="url(#g)"/>',
  },
  {
    name: 'radial gradient with a focus',
    body: '<radialGradient id="g" gradientUnits="userSpaceOnUse" cx="50" cy="50" r="50" fx="35" fy="30"><stop stop-color="#fff"/><stop offset="1" stop-color="#600" stop-opacity=".8"/></radialGradient><path d="M50 0L100 50L50 100L0 50Z" fill="url(#g)"/>',
  },
  {
    name: 'gradient taken over by href, under a transform',
    body: '<linearGradient id="a"><stop stop-color="#0a0"/><stop offset="1" stop-color="#00a"/></linearGradient><linearGradient id="b" href="#a" gradientUnits="userSpaceOnUse" x1="0" y1="0" x2="0" y2="40"/><g transform="translate(50 10) rotate(30)"><rect width="40" height="60" fill="url(#b)" stroke="url(#a)" stroke-width="8"/></g>',
  },
  {
    name: 'pattern',
    body: '<pattern id="p" width="20" height="20" patternUnits="userSpaceOnUse"><rect width="10" height="10" fill="#c33"/><circle cx="15" cy="15" r="5" fill="#33c"/></pattern><circle cx="50" cy="50" r="50" fill="url(#p)"/>',
  },
  {
    name: 'pattern by the box, turned',
    body: '<pattern id="p" width=".25" height=".25" patternTransform="rotate(20)"><rect width="10" height="20" fill="#393"/></pattern><rect x="10" y="10" width="80" height="80" fill="url(#p)" stroke="#000" stroke-width="4"/>',
  },
  // Text
  {
    name: 'text and anchors',
    body: `<g ${text}><text x="5" y="25">Stop</text><text x="50" y="60" text-anchor="middle">Kestrel</text><text x="95" y="95" text-anchor="end">Row</text></g>`,
  },
  {
    name: 'text in several styles',
    body: `<text x="4" y="60" ${text}>A<tspan fill="red" font-size="40">b</tspan><tspan font-weight="700">cd</tspan></text>`,
    disputed: 'resvg places the pieces of a line in several styles otherwise than Chromium, by a pixel or two',
  },
  {
    name: 'text shifted and turned',
    body: `<text x="5" y="70" ${text} dx="0 4 4" dy="0 -12 -12" rotate="0 20 40">Wing</text>`,
  },
  { name: 'letters in places of their own', body: `<text ${text} x="5 35 65" y="30 60 90">abc</text>` },
  {
    name: 'text along a path',
    body: `<path id="w" d="M10 70A40 40 0 0 1 90 70" fill="none"/><text ${text}><textPath href="#w" startOffset="10">Kestrel</textPath></text>`,
    disputed: 'resvg measures paths of small user units coarsely, so that letters along them stand unevenly',
  },
  {
    name: 'letter spacing and size by em',
    body: `<g font-size="12"><text x="5" y="50" font-family="Spline Sans" font-size="2em" letter-spacing="4">Row 7</text></g>`,
  },
  {
    name: 'text under a transform',
    body: `<text transform="translate(20 80) rotate(-40) scale(1.4 1)" ${text}>Tram</text>`,
  },
  // Pictures
  {
    name: 'a picture in the file',
    body: '<image x="10" y="10" width="80" height="60" preserveAspectRatio="none" href="data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAIAAAACCAIAAAD91JpzAAAAFklEQVR4nGP4z8DAwMDAxAADCBYAHfkDAh0Kk0EAAAAASUVORK5CYII="/><rect x="10" y="75" width="80" height="15"/>',
    disputed: 'resvg and Chromium smooth the pixels of a small picture differently',
  },
  // What cannot be carried
  {
    name: 'mask',
    body: '<mask id="m"><circle cx="50" cy="50" r="30" fill="#fff"/></mask><rect mask="url(#m)" width="100" height="100" fill="#369"/>',
    miss: 'masks are not carried',
  },
  {
    name: 'filter',
    body: '<filter id="f"><feGaussianBlur stdDeviation="6"/></filter><rect filter="url(#f)" x="20" y="20" width="60" height="60" fill="#369"/>',
    miss: 'filter effects are not carried',
  },
];
