import type { Reason } from '../../drawing/reasons.js';
import { because } from '../../drawing/reasons.js';
import type { Drawing } from '../../drawing/drawing.js';
import type { Ledger } from '../../drawing/ledger.js';

/** Header variables that a template gives: how things are shown and measured, not what is in the drawing. */
const GIVEN =
  /^\$(LTSCALE|CELTSCALE|PSLTSCALE|DIM.*|LUNITS|LUPREC|AUNITS|AUPREC|ANGBASE|ANGDIR|PDMODE|PDSIZE|TEXTSIZE|FILLMODE|MIRRTEXT|ATTMODE|LIMMIN|LIMMAX)$/;

/**
 * A drawing with the tables of a receiver's template: layers, linetypes, text and dimension styles of the same name take
 * the template's properties, its others are added, and its header says how things are shown. Names are compared without
 * case. Whether a layer is on, frozen or locked stays the drawing's own.
 */
export function withTemplate(drawing: Drawing, template: Drawing, ledger: Ledger): Drawing {
  const merged = <T extends { name: string; key?: string; rest?: string }>(
    own: readonly T[],
    given: readonly T[],
    what: string,
    carryOver: 'layers' | 'text' | 'colour',
    keep: (own: T, given: T) => Partial<T>,
  ): T[] => {
    const byName = new Map(given.map((g) => [g.name.toLowerCase(), g]));
    let changed = 0;
    const out = own.map((o) => {
      const g = byName.get(o.name.toLowerCase());
      if (!g) return o;
      byName.delete(o.name.toLowerCase());
      changed++;
      // Handles belong to the file they stand in.
      const { key: _k, rest: _r, ...properties } = g;
      return { ...properties, ...(o.key !== undefined && { key: o.key }), ...keep(o, g), name: o.name } as T;
    });
    const added = [...byName.values()].map(({ key: _k, rest: _r, ...g }) => g as T);
    const row = (reason: Reason, count: number): void => {
      if (count > 0) ledger.add({ carryOver, action: 'changed', onPurpose: true, reason, count });
    };
    row(because('took-from-template', { what }), changed);
    row(because('added-from-template', { what }), added.length);
    return [...out, ...added];
  };
  const header = new Map(drawing.header);
  for (const [name, values] of template.header) if (GIVEN.test(name)) header.set(name, values);
  return {
    ...drawing,
    header,
    layers: merged(drawing.layers, template.layers, 'layers', 'layers', (o) => ({
      off: o.off,
      frozen: o.frozen,
      locked: o.locked,
    })),
    linetypes: merged(drawing.linetypes, template.linetypes, 'linetypes', 'colour', (_o, g) =>
      g.complex === undefined ? {} : { complex: undefined },
    ),
    textStyles: merged(
      drawing.textStyles.filter((s) => !s.shapes),
      template.textStyles.filter((s) => !s.shapes),
      'text styles',
      'text',
      () => ({}),
    ).concat(drawing.textStyles.filter((s) => s.shapes)),
    dimensionStyles: merged(drawing.dimensionStyles, template.dimensionStyles, 'dimension styles', 'text', (_o, g) => ({
      // What points at other records of the template cannot come along.
      tags: g.tags.filter(([c]) => c < 330 || c > 369),
    })),
  };
}
