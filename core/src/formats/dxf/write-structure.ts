import type { Box2 } from '../../geometry/box.js';
import type { Block, Drawing, Layer, TextStyle } from '../../drawing/drawing.js';
import { newLayer } from '../../drawing/drawing.js';
import { nearestIndex } from '../../drawing/palette.js';
import type { UnitName } from '../../drawing/units.js';
import { unitOf } from '../../drawing/units.js';
import { degreesOf } from './numbers.js';
import type { TagWriter } from './tag-writer.js';
import type { Collected } from './write.js';
import type { EntityContext } from './write-entities.js';
import { writeEntity } from './write-entities.js';
import { nearestWeight } from './weights.js';

/** Header variables of the source that hold for the written file too, when the source was a DXF. */
const CARRIED = [
  '$LTSCALE',
  '$CELTSCALE',
  '$DIMSCALE',
  '$LUNITS',
  '$LUPREC',
  '$AUNITS',
  '$AUPREC',
  '$ANGBASE',
  '$ANGDIR',
  '$PSLTSCALE',
  '$PDMODE',
  '$PDSIZE',
];

/** Everything in the file around the entities: header, tables, block records, dictionaries, layouts. */
export class StructureWriter {
  readonly modelSpace: string;
  private readonly paperSpace: string;
  private readonly modelLayout: string;
  private readonly paperLayout: string;
  private readonly blocks: { block: Block; record: string }[];
  private readonly layerHandles = new Map<string, string>();
  private readonly plotStyle: string;
  private readonly styles: TextStyle[];

  constructor(
    private readonly x: EntityContext,
    private readonly drawing: Drawing,
    private readonly found: Collected,
  ) {
    const { handles } = x;
    this.modelSpace = handles.fresh();
    this.paperSpace = handles.fresh();
    this.modelLayout = handles.fresh();
    this.paperLayout = handles.fresh();
    this.plotStyle = handles.fresh();
    this.blocks = [...drawing.blocks.values()]
      .filter((b) => !b.sheet)
      .map((block) => ({ block, record: handles.fresh() }));
    // Names in use come first, so that a block keeps its own name when another would meet it.
    for (const { block } of this.blocks) x.blocks.nameFor(block.name);
    this.styles = this.collectStyles();
    for (const s of this.styles) x.styles.nameFor(s.name);
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
    for (const s of this.drawing.textStyles) styles.set(s.name.toLowerCase(), s);
    for (const name of ['Standard', ...this.found.styles]) {
      if (!styles.has(name.toLowerCase())) styles.set(name.toLowerCase(), plain(name, 'txt'));
    }
    for (const family of this.found.families) {
      if (!styles.has(family.toLowerCase())) styles.set(family.toLowerCase(), plain(family, `${family}.ttf`));
    }
    return [...styles.values()];
  }

  header(out: TagWriter, version: string, extent: Box2, unit: UnitName): void {
    const u = unitOf(unit);
    const metric = !/^(in|ft|yd|mi|mil|uin)/.test(unit) || unit === 'um';
    out.string(0, 'SECTION');
    out.string(2, 'HEADER');
    const variable = (name: string): void => out.string(9, name);
    variable('$ACADVER');
    out.string(1, version);
    variable('$DWGCODEPAGE');
    out.string(3, 'ANSI_1252');
    variable('$INSBASE');
    out.point(10, [0, 0, 0]);
    variable('$EXTMIN');
    out.point(10, extent.empty ? [1e20, 1e20, 1e20] : [extent.minX, extent.minY, 0]);
    variable('$EXTMAX');
    out.point(10, extent.empty ? [-1e20, -1e20, -1e20] : [extent.maxX, extent.maxY, 0]);
    variable('$CLAYER');
    out.string(8, '0');
    variable('$CELTYPE');
    out.string(6, 'ByLayer');
    variable('$CECOLOR');
    out.integer(62, 256);
    variable('$TEXTSTYLE');
    out.string(7, 'Standard');
    variable('$DIMSTYLE');
    out.string(2, 'Standard');
    for (const name of CARRIED) {
      const values = this.drawing.format === 'dxf' ? this.drawing.header.get(name) : undefined;
      if (!values) continue;
      variable(name);
      for (const [code, text] of values) {
        if (code >= 10 && code < 60) out.number(code, Number(text) || 0);
        else out.integer(code, Number(text) || 0);
      }
    }
    variable('$INSUNITS');
    out.integer(70, u.code);
    variable('$MEASUREMENT');
    out.integer(70, metric ? 1 : 0);
    variable('$HANDSEED');
    out.string(5, this.x.handles.seed);
    out.string(0, 'ENDSEC');
  }

  classes(out: TagWriter): void {
    out.string(0, 'SECTION');
    out.string(2, 'CLASSES');
    out.string(0, 'ENDSEC');
  }

  tables(out: TagWriter): void {
    out.string(0, 'SECTION');
    out.string(2, 'TABLES');
    this.viewports(out);
    this.linetypes(out);
    this.layers(out);
    this.textStyles(out);
    this.table(out, 'VIEW', 0);
    out.string(0, 'ENDTAB');
    this.table(out, 'UCS', 0);
    out.string(0, 'ENDTAB');
    const applications = [...new Set(['ACAD', ...this.drawing.applications.filter((a) => a.toUpperCase() !== 'ACAD')])];
    const appid = this.table(out, 'APPID', applications.length);
    for (const name of applications) {
      this.record(out, 'APPID', appid, 'AcDbRegAppTableRecord');
      out.string(2, name);
      out.integer(70, 0);
    }
    out.string(0, 'ENDTAB');
    this.dimensionStyles(out);
    this.blockRecords(out);
    out.string(0, 'ENDSEC');
  }

  private table(out: TagWriter, name: string, count: number): string {
    const handle = this.x.handles.fresh();
    out.string(0, 'TABLE');
    out.string(2, name);
    out.string(5, handle);
    out.string(330, '0');
    out.string(100, 'AcDbSymbolTable');
    out.integer(70, count);
    return handle;
  }

  private record(
    out: TagWriter,
    type: string,
    owner: string,
    subclass: string,
    handle = this.x.handles.fresh(),
  ): string {
    out.string(0, type);
    out.string(type === 'DIMSTYLE' ? 105 : 5, handle);
    out.string(330, owner);
    out.string(100, 'AcDbSymbolTableRecord');
    out.string(100, subclass);
    return handle;
  }

  private viewports(out: TagWriter): void {
    const table = this.table(out, 'VPORT', 1);
    this.record(out, 'VPORT', table, 'AcDbViewportTableRecord');
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
    out.string(0, 'ENDTAB');
  }

  private linetypes(out: TagWriter): void {
    const own = this.drawing.linetypes.filter((l) => !/^(bylayer|byblock|continuous)$/i.test(l.name));
    const table = this.table(out, 'LTYPE', 3 + own.length + this.found.dashes.size);
    const put = (name: string, description: string, pattern: readonly number[]): void => {
      this.record(out, 'LTYPE', table, 'AcDbLinetypeTableRecord');
      out.string(2, name);
      out.integer(70, 0);
      out.string(3, description);
      out.integer(72, 65);
      out.integer(73, pattern.length);
      out.number(
        40,
        pattern.reduce((sum, p) => sum + Math.abs(p), 0),
      );
      for (const p of pattern) {
        out.number(49, p);
        out.integer(74, 0);
      }
    };
    put('ByBlock', '', []);
    put('ByLayer', '', []);
    put('Continuous', 'Solid line', []);
    for (const l of own) put(this.x.linetypes.nameFor(l.name), l.description, l.pattern);
    for (const [name, lengths] of this.found.dashes) {
      // An odd list of dashes is repeated, as SVG has it.
      const even = lengths.length % 2 ? [...lengths, ...lengths] : lengths;
      put(
        this.x.linetypes.nameFor(name),
        '',
        even.map((l, i) => (i % 2 ? -l : l)),
      );
    }
    out.string(0, 'ENDTAB');
  }

  private layers(out: TagWriter): void {
    const listed = this.drawing.layers;
    const zero = listed.some((l) => this.x.layers.nameFor(l.name) === '0');
    const all: Layer[] = zero ? listed : [newLayer('0'), ...listed];
    const table = this.table(out, 'LAYER', all.length);
    const known = this.x.knownLinetypes;
    for (const l of all) {
      const handle = this.record(out, 'LAYER', table, 'AcDbLayerTableRecord');
      this.layerHandles.set(l.name, handle);
      out.string(2, this.x.layers.nameFor(l.name));
      out.integer(70, (l.frozen ? 1 : 0) | (l.locked ? 4 : 0));
      const { paint } = l;
      const index =
        paint.kind === 'index' ? paint.index : paint.kind === 'rgb' ? (paint.index ?? nearestIndex(paint.rgb)) : 7;
      out.integer(62, l.off ? -index : index);
      if (paint.kind === 'rgb' && this.x.trueColour) out.integer(420, paint.rgb);
      const plain = !known.has(l.linetype.toLowerCase()) || /^by(layer|block)$/i.test(l.linetype);
      out.string(6, plain || /^continuous$/i.test(l.linetype) ? 'Continuous' : this.x.linetypes.nameFor(l.linetype));
      if (!l.plotted) out.integer(290, 0);
      out.integer(370, l.weight === null ? -3 : nearestWeight(l.weight));
      out.string(390, this.plotStyle);
    }
    out.string(0, 'ENDTAB');
  }

  private textStyles(out: TagWriter): void {
    const table = this.table(out, 'STYLE', this.styles.length);
    for (const s of this.styles) {
      this.record(out, 'STYLE', table, 'AcDbTextStyleTableRecord');
      out.string(2, this.x.styles.nameFor(s.name));
      out.integer(70, 0);
      out.number(40, s.fixedHeight);
      out.number(41, s.widthFactor);
      out.number(50, degreesOf(s.oblique));
      out.integer(71, 0);
      out.number(42, s.fixedHeight || 2.5);
      out.string(3, s.font);
      out.string(4, s.bigFont);
    }
    out.string(0, 'ENDTAB');
  }

  private dimensionStyles(out: TagWriter): void {
    const own = this.drawing.dimensionStyles;
    const standard = own.some((s) => s.name.toLowerCase() === 'standard');
    const all = standard ? own : [{ name: 'Standard', tags: [] }, ...own];
    const handle = this.table(out, 'DIMSTYLE', all.length);
    out.string(100, 'AcDbDimStyleTable');
    out.integer(71, all.length);
    for (const style of all) {
      this.record(out, 'DIMSTYLE', handle, 'AcDbDimStyleTableRecord');
      out.string(2, style.name);
      out.integer(70, 0);
      for (const [code, text] of style.tags) if (code !== 70) out.string(code, text);
    }
    out.string(0, 'ENDTAB');
  }

  private blockRecords(out: TagWriter): void {
    const table = this.table(out, 'BLOCK_RECORD', 2 + this.blocks.length);
    const put = (name: string, handle: string, layout: string): void => {
      this.record(out, 'BLOCK_RECORD', table, 'AcDbBlockTableRecord', handle);
      out.string(2, name);
      out.string(340, layout);
    };
    put('*Model_Space', this.modelSpace, this.modelLayout);
    put('*Paper_Space', this.paperSpace, this.paperLayout);
    for (const { block, record } of this.blocks) put(this.x.blocks.nameFor(block.name), record, '0');
    out.string(0, 'ENDTAB');
  }

  blockDefinitions(): void {
    this.blockDefinition('*Model_Space', this.modelSpace, null);
    this.blockDefinition('*Paper_Space', this.paperSpace, null);
    for (const { block, record } of this.blocks) this.blockDefinition(this.x.blocks.nameFor(block.name), record, block);
  }

  private blockDefinition(name: string, record: string, block: Block | null): void {
    const { out, handles } = this.x;
    const begin = (type: string, subclass: string): void => {
      out.string(0, type);
      out.string(5, handles.fresh());
      out.string(330, record);
      out.string(100, 'AcDbEntity');
      if (name === '*Paper_Space') out.integer(67, 1);
      out.string(8, '0');
      out.string(100, subclass);
    };
    begin('BLOCK', 'AcDbBlockBegin');
    out.string(2, name);
    const anonymous = name.startsWith('*') && block !== null;
    out.integer(70, (anonymous ? 1 : 0) | (block?.reference ? 4 : 0));
    out.point(10, block?.base ?? [0, 0, 0]);
    out.string(3, name);
    out.string(1, block?.reference ?? '');
    for (const e of block?.entities ?? []) writeEntity(this.x, e, record);
    begin('ENDBLK', 'AcDbBlockEnd');
  }

  objects(): void {
    const { out, handles } = this.x;
    const root = handles.fresh();
    const groups = handles.fresh();
    const layouts = handles.fresh();
    const plotStyles = handles.fresh();
    out.string(0, 'SECTION');
    out.string(2, 'OBJECTS');
    const dictionary = (handle: string, owner: string, entries: [string, string][], hard = false): void => {
      out.string(0, 'DICTIONARY');
      out.string(5, handle);
      out.string(330, owner);
      out.string(100, 'AcDbDictionary');
      if (hard) out.integer(280, 1);
      out.integer(281, 1);
      for (const [name, target] of entries) {
        out.string(3, name);
        out.string(hard ? 360 : 350, target);
      }
    };
    dictionary(root, '0', [
      ['ACAD_GROUP', groups],
      ['ACAD_LAYOUT', layouts],
      ['ACAD_PLOTSTYLENAME', plotStyles],
    ]);
    dictionary(groups, root, []);
    dictionary(layouts, root, [
      ['Model', this.modelLayout],
      ['Layout1', this.paperLayout],
    ]);
    out.string(0, 'ACDBDICTIONARYWDFLT');
    out.string(5, plotStyles);
    out.string(330, root);
    out.string(100, 'AcDbDictionary');
    out.integer(281, 1);
    out.string(3, 'Normal');
    out.string(350, this.plotStyle);
    out.string(100, 'AcDbDictionaryWithDefault');
    out.string(340, this.plotStyle);
    out.string(0, 'ACDBPLACEHOLDER');
    out.string(5, this.plotStyle);
    out.string(330, plotStyles);
    this.layout('Model', this.modelLayout, layouts, this.modelSpace, 0);
    this.layout('Layout1', this.paperLayout, layouts, this.paperSpace, 1);
    out.string(0, 'ENDSEC');
  }

  private layout(name: string, handle: string, owner: string, space: string, order: number): void {
    const { out } = this.x;
    out.string(0, 'LAYOUT');
    out.string(5, handle);
    out.string(330, owner);
    out.string(100, 'AcDbPlotSettings');
    out.string(1, '');
    out.string(2, 'none_device');
    out.string(4, '');
    out.string(6, '');
    for (const code of [40, 41, 42, 43]) out.number(code, 7.5);
    out.number(44, 297);
    out.number(45, 210);
    for (const code of [46, 47, 48, 49, 140, 141]) out.number(code, 0);
    out.number(142, 1);
    out.number(143, 1);
    out.integer(70, order === 0 ? 1024 : 0);
    out.integer(72, 1);
    out.integer(73, 0);
    out.integer(74, 5);
    out.string(7, '');
    out.integer(75, 16);
    out.number(147, 1);
    out.number(148, 0);
    out.number(149, 0);
    out.string(100, 'AcDbLayout');
    out.string(1, name);
    out.integer(70, 1);
    out.integer(71, order);
    out.point2(10, 0, 0);
    out.point2(11, 297, 210);
    out.point(12, [0, 0, 0]);
    out.point(14, [0, 0, 0]);
    out.point(15, [0, 0, 0]);
    out.number(146, 0);
    out.point(13, [0, 0, 0]);
    out.point(16, [1, 0, 0]);
    out.point(17, [0, 1, 0]);
    out.integer(76, 0);
    out.string(330, space);
  }
}
