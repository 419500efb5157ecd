import type { Drawing, Layer, Linetype, TextStyle } from '../../drawing/drawing.js';
import { newLayer } from '../../drawing/drawing.js';
import { because } from '../../drawing/reasons.js';
import { nearestIndex } from '../../drawing/palette.js';
import type { EntityContext, EntityTags } from './entity-tags.js';
import { isPointer } from './raw-tags.js';
import { beginRecord, beginTable, carriedRecord, endRecord } from './records.js';
import { writeFace } from './font-faces.js';
import type { TagSink } from './tag-sink.js';
import type { Collected } from './collected.js';
import { nearestWeight } from './weights.js';

/** Codes of a DIMSTYLE that R12 has (DXF reference of release 12, "DIMSTYLE"). */
const R12_STYLE = (code: number): boolean =>
  (code >= 3 && code <= 7) ||
  (code >= 40 && code <= 48) ||
  (code >= 140 && code <= 147) ||
  (code >= 71 && code <= 78) ||
  (code >= 170 && code <= 178);

/** The TABLES section but for block records. Handles of layers are known from construction on. */
export class TableWriter {
  private readonly layerHandles = new Map<string, string>();
  private readonly layers: Layer[];
  private readonly styles: TextStyle[];

  private readonly x: EntityContext;

  constructor(
    private readonly w: EntityTags,
    private readonly drawing: Drawing,
    private readonly found: Collected,
    private readonly plotStyle: string,
  ) {
    const { x } = w;
    this.x = x;
    const listed = drawing.layers;
    const zero = listed.some((l) => x.layers.nameFor(l.name) === '0');
    this.layers = zero ? listed : [newLayer('0'), ...listed];
    for (const l of this.layers) this.layerHandles.set(l.name.toLowerCase(), x.handles.record(l.key, x.sameFormat));
    this.styles = this.collectStyles();
    for (const s of this.styles) if (!s.shapes) x.styles.nameFor(s.name);
    x.dimensionStyles.nameFor('Standard');
    for (const s of drawing.dimensionStyles) x.dimensionStyles.nameFor(s.name);
  }

  layerHandle(name: string): string | undefined {
    return this.layerHandles.get(name.toLowerCase());
  }

  private collectStyles(): TextStyle[] {
    const plain = (name: string, font: string): TextStyle => ({
      name,
      font,
      bigFont: '',
      fixedHeight: 0,
      widthFactor: 1,
      oblique: 0,
    });
    const styles = new Map<string, TextStyle>();
    const shapes = this.drawing.textStyles.filter((s) => s.shapes);
    for (const s of this.drawing.textStyles) if (!s.shapes) styles.set(s.name.toLowerCase(), s);
    for (const name of ['Standard', ...this.found.styles]) {
      if (!styles.has(name.toLowerCase())) styles.set(name.toLowerCase(), plain(name, ''));
    }
    for (const [name, face] of this.found.faces) {
      if (!styles.has(name.toLowerCase()))
        styles.set(name.toLowerCase(), { ...plain(name, `${face.family}.ttf`), face });
    }
    return [...styles.values(), ...shapes];
  }

  /** All tables up to dimension styles; block records follow from elsewhere. */
  write(out: TagSink): void {
    const { x } = this;
    this.carriedTable(out, 'VPORT', (owner) => this.activeView(out, owner));
    this.linetypes(out);
    this.layerTable(out);
    this.textStyles(out);
    this.carriedTable(out, 'VIEW');
    this.carriedTable(out, 'UCS');
    // Extended data of an application that no table lists would be nobody's.
    const listed = x.sameFormat ? [...this.drawing.applications, ...this.found.applications] : [];
    const byName = new Map(['ACAD', ...listed].filter((a) => a !== '').map((a) => [a.toUpperCase(), a]));
    byName.set('ACAD', 'ACAD');
    const names = [...byName.values()];
    const appid = beginTable(x, out, 'APPID', names.length);
    for (const name of names) {
      beginRecord(x, out, 'APPID', appid, 'AcDbRegAppTableRecord', x.handles.fresh());
      out.string(2, name);
      out.integer(70, 0);
    }
    out.string(0, 'ENDTAB');
    this.dimensionStyles(out);
  }

  /** A table whose records are carried as they are; `otherwise` writes the one record it needs when there are none. */
  private carriedTable(out: TagSink, name: string, otherwise?: (owner: string) => void): void {
    const { x, drawing } = this;
    const records = x.sameFormat && (!x.r12 || x.sameVersion) ? (drawing.carried.tables.get(name) ?? []) : [];
    // Records of R12 lack the marks that later versions need.
    const whole = records.filter((r) => x.r12 || (r.key !== '' && /(^|\n)\s*100\r?\n/.test(r.raw)));
    const count = whole.length || (otherwise ? 1 : 0);
    const owner = beginTable(x, out, name, count);
    if (whole.length === 0) otherwise?.(owner);
    for (const r of whole) {
      x.handles.record(r.key, true);
      out.raw(carriedRecord(x, r.raw, owner));
    }
    out.string(0, 'ENDTAB');
  }

  private activeView(out: TagSink, owner: string): void {
    beginRecord(this.x, out, 'VPORT', owner, 'AcDbViewportTableRecord', this.x.handles.fresh());
    out.string(2, '*Active');
    out.integer(70, 0);
    out.point2(10, 0, 0);
    out.point2(11, 1, 1);
    out.point2(12, 0, 0);
    out.point2(13, 0, 0);
    out.point2(14, 10, 10);
    out.point2(15, 10, 10);
    out.point(16, [0, 0, 1]);
    out.point(17, [0, 0, 0]);
    out.number(40, 1000);
    out.number(41, 1.5);
    out.number(42, 50);
  }

  private linetypes(out: TagSink): void {
    const { x } = this;
    const known = this.drawing.linetypes;
    const own = known.filter((l) => !/^(bylayer|byblock|continuous)$/i.test(l.name));
    const table = beginTable(x, out, 'LTYPE', (x.r12 ? 1 : 3) + own.length + this.found.dashes.size);
    const put = (
      name: string,
      description: string,
      pattern: readonly number[],
      { key, rest, flags = 0, stated }: Partial<Linetype> = {},
    ): void => {
      beginRecord(x, out, 'LTYPE', table, 'AcDbLinetypeTableRecord', x.handles.record(key, x.sameFormat), rest);
      out.string(2, name);
      out.integer(70, flags);
      out.string(3, description);
      out.integer(72, 65);
      out.integer(73, pattern.length);
      out.number(40, stated ?? pattern.reduce((sum, p) => sum + Math.abs(p), 0));
      for (const p of pattern) {
        out.number(49, p);
        if (!x.r12) out.integer(74, 0);
      }
      endRecord(x, out, rest);
    };
    const standard = (name: string, description: string): void => {
      const given = known.find((l) => l.name.toLowerCase() === name.toLowerCase());
      put(name, given?.description ?? description, [], given);
    };
    if (!x.r12) {
      standard('ByBlock', '');
      standard('ByLayer', '');
    }
    standard('Continuous', 'Solid line');
    for (const l of own) {
      if (l.complex !== undefined && x.sameFormat && !x.r12) {
        x.handles.record(l.key, true);
        out.raw(carriedRecord(x, l.complex, table));
        continue;
      }
      if (l.complex !== undefined) {
        x.ledger.add({
          carryOver: 'colour',
          action: 'dropped',
          reason: 'linetype-letters-left-out',
          onPurpose: true,
        });
      }
      put(x.linetypes.nameFor(l.name), l.description, l.pattern, l);
    }
    for (const [name, lengths] of this.found.dashes) {
      // An odd list of dashes is repeated, as SVG has it.
      const even = lengths.length % 2 ? [...lengths, ...lengths] : lengths;
      put(
        x.linetypes.nameFor(name),
        '',
        even.map((l, i) => (i % 2 ? -l : l)),
      );
    }
    out.string(0, 'ENDTAB');
  }

  private layerTable(out: TagSink): void {
    const { x } = this;
    const table = beginTable(x, out, 'LAYER', this.layers.length);
    const known = x.knownLinetypes;
    for (const l of this.layers) {
      beginRecord(x, out, 'LAYER', table, 'AcDbLayerTableRecord', this.layerHandles.get(l.name.toLowerCase())!, l.rest);
      out.string(2, x.layers.nameFor(l.name));
      out.integer(70, (l.frozen ? 1 : 0) | (l.locked ? 4 : 0) | (l.flags ?? 0));
      const { paint } = l;
      const index = paint.kind === 'index' ? paint.index : paint.kind === 'rgb' ? this.indexOf(paint) : 7;
      out.integer(62, l.off ? -index : index);
      if (paint.kind === 'rgb' && x.trueColour) out.integer(420, paint.rgb);
      const plain = !known.has(l.linetype.toLowerCase()) || /^by(layer|block)$/i.test(l.linetype);
      if (!known.has(l.linetype.toLowerCase()) && !/^continuous$/i.test(l.linetype))
        x.ledger.add({
          carryOver: 'colour',
          action: 'changed',
          reason: because('layer-linetype-missing', { name: l.linetype, layer: l.name }),
        });
      const continuous = plain || /^continuous$/i.test(l.linetype);
      out.string(6, continuous ? 'Continuous' : x.linetypes.nameFor(l.linetype));
      if (x.oneSheet) {
        if (!l.plotted || l.weight !== null) {
          x.ledger.add({
            carryOver: 'layers',
            action: 'dropped',
            reason: 'layer-weights-need-2000',
            onPurpose: true,
          });
        }
        if (!x.r12) endRecord(x, out, l.rest, ([c]) => c === 290 || c === 370 || c === 390);
        continue;
      }
      if (!l.plotted) out.integer(290, 0);
      out.integer(370, l.weight === null ? -3 : nearestWeight(l.weight));
      const plot = x.sameFormat ? /(?:^|\n)390\n\s*([0-9A-Fa-f]+)/.exec(l.rest ?? '')?.[1] : undefined;
      if (plot === undefined || !x.pointers.has(plot)) out.string(390, this.plotStyle);
      endRecord(x, out, l.rest, ([c, v]) => c === 390 && !x.pointers.has(v));
      if (l.opacity !== undefined && l.opacity < 1 && !(x.sameFormat && l.rest !== undefined)) {
        x.ledger.add({ carryOver: 'colour', action: 'dropped', reason: 'layer-transparency-not-written' });
      }
    }
    out.string(0, 'ENDTAB');
  }

  private indexOf(paint: { rgb: number; index?: number }): number {
    return this.x.trueColour ? (paint.index ?? nearestIndex(paint.rgb)) : this.w.nearest(paint.rgb);
  }

  private textStyles(out: TagSink): void {
    const { x } = this;
    const table = beginTable(x, out, 'STYLE', this.styles.length);
    for (const s of this.styles) {
      beginRecord(x, out, 'STYLE', table, 'AcDbTextStyleTableRecord', x.handles.record(s.key, x.sameFormat), s.rest);
      out.string(2, s.shapes ? '' : x.styles.nameFor(s.name));
      out.integer(70, (s.shapes ? 1 : 0) | (s.vertical ? 4 : 0) | (s.flags ?? 0));
      out.number(40, s.fixedHeight);
      out.number(41, s.widthFactor);
      out.angle(50, s.oblique);
      out.integer(71, (s.backwards ? 2 : 0) | (s.upsideDown ? 4 : 0));
      out.number(42, s.lastHeight ?? (s.fixedHeight || 2.5));
      out.string(3, s.font);
      out.string(4, s.bigFont);
      endRecord(x, out, s.rest);
      // What was read of it stands among the rest already.
      if (s.face && !(x.sameFormat && s.rest !== undefined) && !x.r12) writeFace(out, s.face);
    }
    out.string(0, 'ENDTAB');
  }

  private dimensionStyles(out: TagSink): void {
    const { x } = this;
    const own = this.drawing.dimensionStyles;
    const standard = own.some((s) => s.name.toLowerCase() === 'standard');
    const all = standard ? own : [{ name: 'Standard', tags: [] }, ...own];
    const handle = beginTable(x, out, 'DIMSTYLE', all.length);
    if (!x.r12) {
      out.string(100, 'AcDbDimStyleTable');
      out.integer(71, all.length);
    }
    for (const style of all) {
      const key = 'key' in style ? style.key : undefined;
      beginRecord(x, out, 'DIMSTYLE', handle, 'AcDbDimStyleTableRecord', x.handles.record(key, x.sameFormat));
      out.string(2, x.dimensionStyles.nameFor(style.name));
      out.integer(70, ('flags' in style && style.flags) || 0);
      for (const [code, text] of style.tags) {
        if ((x.r12 && !R12_STYLE(code)) || (!x.r12 && code >= 5 && code <= 7)) continue;
        if (isPointer(code) && !(x.sameFormat && x.pointers.has(text))) continue;
        out.string(code, text);
      }
      endRecord(x, out, 'rest' in style ? style.rest : undefined);
    }
    out.string(0, 'ENDTAB');
  }
}
