/*
 * Art by chance: shapes of every kind under groups, transforms, styles and paints of every kind, on a page of 200 × 160. The same
 * number gives the same drawing.
 */

/** Numbers from 0 to 1 by chance, the same for the same seed (a linear congruential generator). */
function chance(seed: number): () => number {
  let state = (Math.imul(seed, 0x9e3779b1) ^ 0x5bd1e995) >>> 0;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return (state >>> 8) / 2 ** 24;
  };
}

export interface ArtOptions {
  /** Gradients among the paints. */
  gradients: boolean;
  /** Opacity of fills, strokes, shapes and colours. */
  opacity: boolean;
  clips: boolean;
  text: boolean;
  /** The widest line, in mm. */
  widest: number;
}

const ALL: ArtOptions = { gradients: true, opacity: true, clips: true, text: true, widest: 6 };

export function generatedArt(seed: number, given: Partial<ArtOptions> = {}): string {
  const options = { ...ALL, ...given };
  const next = chance(seed + 1);
  const real = (from: number, to: number): number => Number((from + (to - from) * next()).toFixed(2));
  const among = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!;
  const maybe = (part: number): boolean => next() < part;
  const x = (): number => real(10, 190);
  const y = (): number => real(10, 150);
  const defs: string[] = [];

  const colour = (): string =>
    among([
      () =>
        `#${Math.floor(next() * 0xffffff)
          .toString(16)
          .padStart(6, '0')}`,
      () => among(['teal', 'crimson', 'gold', 'navy', 'olive', 'black', 'white']),
      () => `rgb(${Math.floor(next() * 255)}, ${Math.floor(next() * 255)}, ${Math.floor(next() * 255)})`,
      () => (options.opacity ? `rgba(${Math.floor(next() * 255)}, 90, 60, ${real(0.3, 1)})` : 'purple'),
    ])();

  /** In the box of its shape only where that is no curve: the renderer takes the control points of curves for their box. */
  const gradient = (curved: boolean): string => {
    const id = `paint${defs.length}`;
    const stops = Array.from({ length: 2 + Math.floor(next() * 3) }, (_, i, all = 3) => {
      const opacity = options.opacity && maybe(0.3) ? ` stop-opacity="${real(0, 1)}"` : '';
      return `<stop offset="${(i / all).toFixed(2)}" stop-color="${colour()}"${opacity}/>`;
    }).join('');
    const spread = among(['', '', ' spreadMethod="reflect"', ' spreadMethod="repeat"']);
    const k = curved || maybe(0.4) ? 100 : 1;
    const units = k === 1 ? '' : ' gradientUnits="userSpaceOnUse"';
    const at = (from: number, to: number): string => String(Number((k * real(from, to)).toFixed(2)));
    const turned = maybe(0.3) ? ` gradientTransform="rotate(${real(0, 90)} ${k / 2} ${k / 2})"` : '';
    defs.push(
      maybe(0.6)
        ? `<linearGradient id="${id}" x1="${at(0, 0.4)}" y1="0" x2="${at(0.6, 1)}" y2="${at(0, 1)}"${units}${spread}${turned}>${stops}</linearGradient>`
        : `<radialGradient id="${id}" cx="${k / 2}" cy="${k / 2}" r="${at(0.4, 0.8)}" fx="${at(0.3, 0.7)}"${units}${spread}${turned}>${stops}</radialGradient>`,
    );
    return `url(#${id})`;
  };
  const paint = (curved: boolean): string => (options.gradients && maybe(0.25) ? gradient(curved) : colour());

  /** Where dashes begin on circles and ellipses is not kept (docs/formats.md), so those have none. */
  const style = (filled: boolean, dashed = true, curved = false): string => {
    const said: [string, string][] = [];
    const fill = filled && maybe(0.75);
    said.push(['fill', fill ? paint(curved) : 'none']);
    if (fill && maybe(0.4)) said.push(['fill-rule', among(['evenodd', 'nonzero'])]);
    if (fill && options.opacity && maybe(0.25)) said.push(['fill-opacity', String(real(0.2, 1))]);
    if (!fill || maybe(0.5)) {
      said.push(['stroke', paint(curved)], ['stroke-width', String(real(0.6, options.widest))]);
      if (maybe(0.4)) said.push(['stroke-linecap', among(['round', 'square', 'butt'])]);
      if (maybe(0.4)) said.push(['stroke-linejoin', among(['round', 'bevel', 'miter'])]);
      if (maybe(0.2)) said.push(['stroke-miterlimit', String(real(1, 8))]);
      if (dashed && maybe(0.25)) said.push(['stroke-dasharray', `${real(3, 10)} ${real(2, 6)}`]);
      if (options.opacity && maybe(0.2)) said.push(['stroke-opacity', String(real(0.2, 1))]);
    }
    if (options.opacity && maybe(0.15)) said.push(['opacity', String(real(0.3, 1))]);
    return maybe(0.5)
      ? said.map(([name, value]) => ` ${name}="${value}"`).join('')
      : ` style="${said.map(([name, value]) => `${name}:${value}`).join(';')}"`;
  };

  const transform = (): string =>
    maybe(0.35)
      ? ` transform="${among([
          () => `translate(${real(-15, 15)} ${real(-15, 15)})`,
          () => `rotate(${real(-60, 60)} 100 80)`,
          () => `translate(100 80) scale(${real(0.6, 1.3)}) translate(-100 -80)`,
          () => `translate(200 0) scale(-1 1)`,
        ])()}"`
      : '';

  const path = (): string => {
    let d = `M${x()} ${y()}`;
    for (let i = 0; i < 2 + next() * 5; i++)
      d += among([
        () => `L${x()} ${y()}`,
        () => `h${real(-40, 40)}`,
        () => `v${real(-30, 30)}`,
        () => `C${x()} ${y()} ${x()} ${y()} ${x()} ${y()}`,
        () => `S${x()} ${y()} ${x()} ${y()}`,
        () => `Q${x()} ${y()} ${x()} ${y()}`,
        () => `A${real(10, 50)} ${real(10, 50)} ${real(0, 90)} ${among([0, 1])} ${among([0, 1])} ${x()} ${y()}`,
        () => `M${x()} ${y()}`,
      ])();
    return d + (maybe(0.5) ? 'Z' : '');
  };

  const shape = (): string =>
    among([
      () =>
        `<rect x="${x()}" y="${y()}" width="${real(5, 60)}" height="${real(5, 50)}"${maybe(0.3) ? ` rx="${real(1, 12)}"` : ''}${style(true)}${transform()}/>`,
      () => `<circle cx="${x()}" cy="${y()}" r="${real(3, 30)}"${style(true, false)}${transform()}/>`,
      () =>
        `<ellipse cx="${x()}" cy="${y()}" rx="${real(3, 40)}" ry="${real(3, 25)}"${style(true, false)}${transform()}/>`,
      () => `<line x1="${x()}" y1="${y()}" x2="${x()}" y2="${y()}"${style(false)}${transform()}/>`,
      () => `<polyline points="${x()},${y()} ${x()},${y()} ${x()},${y()} ${x()},${y()}"${style(true)}${transform()}/>`,
      () => `<polygon points="${x()},${y()} ${x()},${y()} ${x()},${y()}"${style(true)}${transform()}/>`,
      () => `<path d="${path()}"${style(true, true, true)}${transform()}/>`,
      () => `<path d="${path()}"${style(true, true, true)}${transform()}/>`,
      () =>
        options.text
          ? `<text x="${x()}" y="${y()}" font-family="Spline Sans" font-size="${real(8, 24)}"${maybe(0.3) ? ' font-weight="700"' : ''}${maybe(0.4) ? ' text-anchor="middle"' : ''} fill="${colour()}"${transform()}>${among(['Kestrel', 'Row 12', 'Platform', 'Gate'])}</text>`
          : `<circle cx="${x()}" cy="${y()}" r="9" fill="${colour()}"/>`,
    ])();

  const group = (depth: number): string => {
    const inner = Array.from({ length: 1 + Math.floor(next() * 3) }, () =>
      depth > 0 && maybe(0.3) ? group(depth - 1) : shape(),
    );
    let clip = '';
    if (options.clips && maybe(0.2)) {
      defs.push(
        `<clipPath id="clip${defs.length}"><rect x="${real(20, 60)}" y="${real(20, 50)}" width="100" height="80" rx="${among([0, 14])}"/></clipPath>`,
      );
      clip = ` clip-path="url(#clip${defs.length - 1})"`;
    }
    const opacity = options.opacity && inner.length === 1 && maybe(0.2) ? ` opacity="${real(0.3, 1)}"` : '';
    return `<g${clip}${opacity}${transform()}>${inner.join('')}</g>`;
  };

  const body = Array.from({ length: 2 + Math.floor(next() * 5) }, () => (maybe(0.4) ? group(2) : shape())).join('\n');
  return (
    '<svg xmlns="http://www.w3.org/2000/svg" width="200mm" height="160mm" viewBox="0 0 200 160">' +
    `<defs>${defs.join('')}</defs>\n${body}\n</svg>`
  );
}
