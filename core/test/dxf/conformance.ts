/**
 * Whether a DXF file keeps what the published DXF reference asks of a complete file. Written from the reference and on
 * its own: nothing of the reader or writer is used. Each rule is tested by breaking it.
 */

interface Tag {
  code: number;
  value: string;
  line: number;
}
interface Rec {
  type: string;
  tags: Tag[];
  line: number;
}

const WEIGHTS = new Set([
  -3, -2, -1, 0, 5, 9, 13, 15, 18, 20, 25, 30, 35, 40, 50, 53, 60, 70, 80, 90, 100, 106, 120, 140, 158, 200, 211,
]);
const VERSIONS = ['AC1009', 'AC1015', 'AC1018', 'AC1021', 'AC1024', 'AC1027', 'AC1032'];
const TABLES = ['VPORT', 'LTYPE', 'LAYER', 'STYLE', 'VIEW', 'UCS', 'APPID', 'DIMSTYLE', 'BLOCK_RECORD'];
const RECORD_MARK: Record<string, string> = {
  VPORT: 'AcDbViewportTableRecord',
  LTYPE: 'AcDbLinetypeTableRecord',
  LAYER: 'AcDbLayerTableRecord',
  STYLE: 'AcDbTextStyleTableRecord',
  VIEW: 'AcDbViewTableRecord',
  UCS: 'AcDbUCSTableRecord',
  APPID: 'AcDbRegAppTableRecord',
  DIMSTYLE: 'AcDbDimStyleTableRecord',
  BLOCK_RECORD: 'AcDbBlockTableRecord',
};
/** Subclass marks an entity must have after AcDbEntity, in order. */
const MARKS: Record<string, readonly (readonly string[])[]> = {
  LINE: [['AcDbLine']],
  POINT: [['AcDbPoint']],
  CIRCLE: [['AcDbCircle']],
  ARC: [['AcDbCircle', 'AcDbArc']],
  ELLIPSE: [['AcDbEllipse']],
  SPLINE: [['AcDbSpline']],
  LWPOLYLINE: [['AcDbPolyline']],
  RAY: [['AcDbRay']],
  XLINE: [['AcDbXline']],
  TEXT: [['AcDbText', 'AcDbText']],
  MTEXT: [['AcDbMText']],
  HATCH: [['AcDbHatch']],
  SOLID: [['AcDbTrace']],
  TRACE: [['AcDbTrace']],
  '3DFACE': [['AcDbFace']],
  LEADER: [['AcDbLeader']],
  INSERT: [['AcDbBlockReference'], ['AcDbMInsertBlock']],
  VIEWPORT: [['AcDbViewport']],
  IMAGE: [['AcDbRasterImage']],
  WIPEOUT: [['AcDbWipeout']],
  ATTRIB: [['AcDbText', 'AcDbAttribute']],
  ATTDEF: [['AcDbText', 'AcDbAttributeDefinition']],
  POLYLINE: [['AcDb2dPolyline'], ['AcDb3dPolyline'], ['AcDbPolygonMesh'], ['AcDbPolyFaceMesh']],
  VERTEX: [
    ['AcDbVertex', 'AcDb2dVertex'],
    ['AcDbVertex', 'AcDb3dPolylineVertex'],
    ['AcDbVertex', 'AcDbPolygonMeshVertex'],
    ['AcDbVertex', 'AcDbPolyFaceMeshVertex'],
    ['AcDbFaceRecord'],
  ],
  DIMENSION: [
    ['AcDbDimension', 'AcDbAlignedDimension', 'AcDbRotatedDimension'],
    ['AcDbDimension', 'AcDbAlignedDimension'],
    ['AcDbDimension', 'AcDb2LineAngularDimension'],
    ['AcDbDimension', 'AcDb3PointAngularDimension'],
    ['AcDbDimension', 'AcDbDiametricDimension'],
    ['AcDbDimension', 'AcDbRadialDimension'],
    ['AcDbDimension', 'AcDbOrdinateDimension'],
  ],
  ARC_DIMENSION: [['AcDbDimension', 'AcDbArcDimension']],
};
/** Entities of release 12. */
const RELEASE_12 = new Set([
  'LINE',
  'POINT',
  'CIRCLE',
  'ARC',
  'TRACE',
  'SOLID',
  'TEXT',
  'SHAPE',
  'INSERT',
  'ATTDEF',
  'ATTRIB',
  'POLYLINE',
  'VERTEX',
  'SEQEND',
  '3DFACE',
  'VIEWPORT',
  'DIMENSION',
]);

/** Faults of an ASCII DXF, in words with the line; empty when it conforms. */
export function conform(bytes: Uint8Array): string[] {
  return new Checker(bytes).run();
}

class Checker {
  private readonly faults: string[] = [];
  private readonly tags: Tag[] = [];
  private readonly sections = new Map<string, Tag[]>();
  private version = '';
  private readonly handles = new Map<string, string>();

  constructor(private readonly bytes: Uint8Array) {}

  private fault(text: string, line?: number): void {
    if (this.faults.length < 50) this.faults.push(line === undefined ? text : `${text} (line ${line})`);
  }

  run(): string[] {
    this.scan();
    this.split();
    this.header();
    const r12 = this.version === 'AC1009';
    const order = r12
      ? ['HEADER', 'TABLES', 'BLOCKS', 'ENTITIES']
      : ['HEADER', 'CLASSES', 'TABLES', 'BLOCKS', 'ENTITIES', 'OBJECTS'];
    const present = [...this.sections.keys()];
    if (order.some((s, i) => present[i] !== s))
      this.fault(`sections are ${present.join(', ')}, not ${order.join(', ')}`);
    this.tables(r12);
    this.spaces(r12);
    if (!r12) {
      this.classes();
      this.objects();
      this.pointers();
    }
    this.seed();
    return this.faults;
  }

  /** Lines in pairs, codes whole, values fit for their code. */
  private scan(): void {
    let text = '';
    try {
      text = new TextDecoder('utf-8', { fatal: true }).decode(this.bytes);
    } catch {
      text = new TextDecoder('windows-1252').decode(this.bytes);
    }
    const lines = text.split('\r\n');
    if (text.replace(/\r\n/g, '').match(/[\r\n]/)) this.fault('a line does not end in CRLF');
    if (lines.pop() !== '') this.fault('the last line has no end');
    if (lines.length % 2) this.fault('an odd number of lines');
    for (let i = 0; i + 1 < lines.length; i += 2) {
      const code = Number(lines[i]);
      const value = lines[i + 1]!;
      if (!/^ *-?\d+$/.test(lines[i]!) || code < 0 || code > 1071) this.fault(`"${lines[i]}" is no group code`, i + 1);
      if (value.length > 2049) this.fault('a value longer than 2049 characters', i + 2);
      const real =
        (code >= 10 && code < 60) ||
        (code >= 110 && code < 150) ||
        (code >= 210 && code < 240) ||
        (code >= 460 && code < 470) ||
        (code >= 1010 && code < 1060);
      const whole =
        (code >= 60 && code < 80) ||
        (code >= 90 && code < 100) ||
        (code >= 170 && code < 180) ||
        (code >= 270 && code < 300) ||
        (code >= 370 && code < 390) ||
        (code >= 420 && code < 430) ||
        (code >= 440 && code < 460) ||
        code >= 1060;
      if (real && !/^-?\d*\.?\d*([eE][-+]?\d+)?$/.test(value.trim()))
        this.fault(`"${value}" is no number for group ${code}`, i + 2);
      if (real && /^\s*$/.test(value)) this.fault(`no number for group ${code}`, i + 2);
      if (whole && !/^\s*-?\d+$/.test(value)) this.fault(`"${value}" is no whole number for group ${code}`, i + 2);
      this.tags.push({ code, value, line: i + 1 });
    }
  }

  private split(): void {
    let current: Tag[] | null = null;
    this.tags.forEach((t, i) => {
      if (t.code === 0 && t.value === 'SECTION') {
        if (current) this.fault('a section without its end', t.line);
        current = [];
        this.sections.set(this.tags[i + 1]?.value ?? '', current);
      } else if (t.code === 0 && t.value === 'ENDSEC') {
        if (!current) this.fault('an end without its section', t.line);
        current = null;
      } else if (current && !(t.code === 2 && current.length === 0 && this.tags[i - 1]?.value === 'SECTION'))
        current.push(t);
    });
    const last = this.tags[this.tags.length - 1];
    if (current || last?.code !== 0 || last.value !== 'EOF') this.fault('the file does not end with EOF');
  }

  private records(section: string): Rec[] {
    const out: Rec[] = [];
    for (const t of this.sections.get(section) ?? []) {
      if (t.code === 0) out.push({ type: t.value, tags: [], line: t.line });
      else out[out.length - 1]?.tags.push(t);
    }
    return out;
  }

  private header(): void {
    const h = this.sections.get('HEADER') ?? [];
    const value = (name: string): string | undefined => {
      const i = h.findIndex((t) => t.code === 9 && t.value === name);
      return i < 0 ? undefined : h[i + 1]?.value;
    };
    this.version = value('$ACADVER') ?? '';
    if (!VERSIONS.includes(this.version)) this.fault(`$ACADVER is "${this.version}"`);
    if (h[0]?.value !== '$ACADVER') this.fault('$ACADVER does not come first');
    const r12 = this.version === 'AC1009';
    for (const name of ['$EXTMIN', '$EXTMAX', '$HANDSEED', ...(r12 ? [] : ['$DWGCODEPAGE', '$INSUNITS'])])
      if (value(name) === undefined) this.fault(`the header lacks ${name}`);
    const names = h.filter((t) => t.code === 9).map((t) => t.value);
    if (new Set(names).size !== names.length) this.fault('a header variable stands twice');
  }

  private handleOf(r: Rec): string | undefined {
    const i = r.tags.findIndex((t) => t.code === (r.type === 'DIMSTYLE' ? 105 : 5));
    return i < 0 ? undefined : r.tags[i]!.value.trim().toUpperCase();
  }

  private take(r: Rec, needed: boolean): string {
    const h = this.handleOf(r);
    if (h === undefined) {
      if (needed) this.fault(`${r.type} without a handle`, r.line);
      return '';
    }
    if (!/^[0-9A-F]{1,16}$/.test(h) || /^0+$/.test(h)) this.fault(`"${h}" is no handle`, r.line);
    if (this.handles.has(h)) this.fault(`handle ${h} of ${r.type} is that of ${this.handles.get(h)} too`, r.line);
    this.handles.set(h, r.type);
    return h;
  }

  /** The owner: the pointer outside groups in braces before the first mark. */
  private ownerOf(r: Rec): string | undefined {
    let depth = 0;
    for (const t of r.tags) {
      if (t.code === 100) return undefined;
      if (t.code === 102) depth += t.value.startsWith('{') ? 1 : -1;
      if (t.code === 330 && depth === 0) return t.value.trim().toUpperCase();
    }
    return undefined;
  }

  private marks(r: Rec): string[] {
    const end = r.tags.findIndex((t) => t.code === 101 || t.code >= 1000);
    return (end < 0 ? r.tags : r.tags.slice(0, end)).filter((t) => t.code === 100).map((t) => t.value);
  }

  private names: Record<string, Set<string>> = {};
  private recordHandles = new Map<string, string>();

  private tables(r12: boolean): void {
    const seen: string[] = [];
    let table: { name: string; handle: string; count: number; stated: number; line: number } | null = null;
    for (const r of this.records('TABLES')) {
      const first = (code: number): string | undefined => r.tags.find((t) => t.code === code)?.value;
      if (r.type === 'TABLE') {
        const name = first(2) ?? '';
        seen.push(name);
        this.names[name] ??= new Set();
        table = { name, handle: r12 ? '' : this.take(r, true), count: 0, stated: Number(first(70) ?? 0), line: r.line };
        if (!r12 && this.marks(r)[0] !== 'AcDbSymbolTable') this.fault(`table ${name} lacks AcDbSymbolTable`, r.line);
        if (!r12 && this.ownerOf(r) !== '0') this.fault(`table ${name} has an owner`, r.line);
        if (name === 'DIMSTYLE' && !r12 && this.marks(r)[1] !== 'AcDbDimStyleTable')
          this.fault('table DIMSTYLE lacks AcDbDimStyleTable', r.line);
        continue;
      }
      if (r.type === 'ENDTAB') {
        if (table && table.count !== table.stated)
          this.fault(`table ${table.name} states ${table.stated} records and has ${table.count}`, table.line);
        table = null;
        continue;
      }
      if (!table) {
        this.fault(`${r.type} outside a table`, r.line);
        continue;
      }
      table.count++;
      if (r.type !== table.name) this.fault(`${r.type} in table ${table.name}`, r.line);
      const name = first(2);
      if (name === undefined) this.fault(`${r.type} without a name`, r.line);
      const shape = r.type === 'STYLE' && (Number(first(70)) & 1) !== 0;
      const key = (name ?? '').toUpperCase();
      if (!shape && r.type !== 'VPORT') {
        if (this.names[table.name]!.has(key)) this.fault(`two records of ${table.name} are called ${name}`, r.line);
        if (name === '') this.fault(`a record of ${table.name} has an empty name`, r.line);
        if (r12 && !/^[A-Z0-9$_*-]{1,31}$/i.test(name ?? '')) this.fault(`"${name}" is no name of release 12`, r.line);
        if (
          !r12 &&
          /[<>/\\":;?=`]|[,*|](?!.*)/.test((name ?? '').replace(/^\*/, '').replace(/\\U\+[0-9A-F]{4}/g, '')) &&
          table.name !== 'APPID'
        )
          this.fault(`"${name}" has a character that names may not have`, r.line);
      }
      this.names[table.name]!.add(key);
      if (r12) continue;
      const h = this.take(r, true);
      this.recordHandles.set(`${table.name}|${key}`, h);
      if (this.ownerOf(r) !== table.handle) this.fault(`${r.type} ${name} is not owned by its table`, r.line);
      const marks = this.marks(r);
      if (marks[0] !== 'AcDbSymbolTableRecord' || marks[1] !== RECORD_MARK[table.name])
        this.fault(`${r.type} ${name} lacks its subclass marks`, r.line);
      if (r.type === 'LAYER') {
        if (first(390) === undefined) this.fault(`layer ${name} has no plot style`, r.line);
        if (!WEIGHTS.has(Number(first(370) ?? -3))) this.fault(`layer ${name} has weight ${first(370)}`, r.line);
        if (Number(first(62) ?? 0) === 0) this.fault(`layer ${name} has no colour`, r.line);
      }
      if (r.type === 'LTYPE' && Number(first(73) ?? 0) !== r.tags.filter((t) => t.code === 49).length)
        this.fault(`linetype ${name} states another number of dashes`, r.line);
    }
    const wanted = r12 ? TABLES.slice(0, 8) : TABLES;
    for (const t of wanted)
      if (seen.filter((s) => s === t).length !== 1)
        this.fault(`table ${t} stands ${seen.filter((s) => s === t).length} times`);
    const need = (table: string, ...list: string[]): void => {
      for (const n of list) if (!this.names[table]?.has(n.toUpperCase())) this.fault(`${table} lacks ${n}`);
    };
    need('LAYER', '0');
    need('LTYPE', 'Continuous', ...(r12 ? [] : ['ByBlock', 'ByLayer']));
    need('STYLE', 'Standard');
    need('APPID', 'ACAD');
    need('DIMSTYLE', 'Standard');
    need('VPORT', '*Active');
    if (!r12) need('BLOCK_RECORD', '*Model_Space', '*Paper_Space');
    for (const r of this.records('TABLES')) {
      if (r.type !== 'LAYER') continue;
      const type = r.tags.find((t) => t.code === 6)?.value ?? '';
      if (!this.names['LTYPE']?.has(type.toUpperCase()))
        this.fault(`a layer has the linetype ${type}, which is not listed`, r.line);
    }
  }

  /** Block definitions and entities: owners, names they refer to, sequences, marks, plausible values. */
  private spaces(r12: boolean): void {
    const blocks = new Set<string>();
    let owner = '';
    let inside = false;
    const sequence: { handle: string; kind: string }[] = [];
    const each = (r: Rec, space: string): void => {
      const type = r.type;
      const h = this.take(r, !r12);
      const first = (code: number): string | undefined => r.tags.find((t) => t.code === code)?.value;
      if (r12 && !RELEASE_12.has(type)) this.fault(`release 12 has no ${type}`, r.line);
      const open = sequence[sequence.length - 1];
      const follower = type === 'VERTEX' || type === 'ATTRIB' || type === 'SEQEND';
      if (follower && !open) this.fault(`${type} outside a sequence`, r.line);
      if (!follower && open) this.fault(`${open.kind} without its SEQEND`, r.line);
      if (!r12) {
        const want = follower ? (open?.handle ?? '') : space;
        if (this.ownerOf(r) !== want) this.fault(`${type} ${h} is owned by ${this.ownerOf(r)}, not ${want}`, r.line);
        const marks = this.marks(r);
        if (marks[0] !== 'AcDbEntity') this.fault(`${type} ${h} lacks AcDbEntity`, r.line);
        const known = MARKS[type];
        if (known && !known.some((list) => list.every((m, i) => marks[i + 1] === m)))
          this.fault(`${type} ${h} has the marks ${marks.join(', ')}`, r.line);
      } else if (r.tags.some((t) => t.code === 100 || t.code === 330 || t.code === 420 || t.code === 370))
        this.fault(`${type} has tags that release 12 does not know`, r.line);
      if (type === 'SEQEND') sequence.pop();
      if (type === 'POLYLINE' || (type === 'INSERT' && first(66) === '1')) sequence.push({ handle: h, kind: type });
      const layer = first(8);
      if (layer === undefined) this.fault(`${type} ${h} has no layer`, r.line);
      else if (!this.names['LAYER']?.has(layer.toUpperCase()))
        this.fault(`${type} ${h} lies on ${layer}, which is not listed`, r.line);
      const linetype = first(6);
      if (
        linetype !== undefined &&
        !/^by(layer|block)$/i.test(linetype) &&
        !this.names['LTYPE']?.has(linetype.toUpperCase())
      )
        this.fault(`${type} ${h} has the linetype ${linetype}, which is not listed`, r.line);
      const weight = first(370);
      if (weight !== undefined && !WEIGHTS.has(Number(weight))) this.fault(`${type} ${h} has weight ${weight}`, r.line);
      const colour = first(62);
      if (colour !== undefined && (Number(colour) < 0 || Number(colour) > 257))
        this.fault(`${type} ${h} has colour ${colour}`, r.line);
      if (this.version < 'AC1018' && first(420) !== undefined && !r12)
        this.fault(`${type} ${h} has a true colour before version 2004`, r.line);
      if (
        type === 'INSERT' &&
        !blocks.has((first(2) ?? '').toUpperCase()) &&
        !this.names['BLOCK_RECORD']?.has((first(2) ?? '').toUpperCase())
      )
        this.fault(`${type} ${h} inserts ${first(2)}, which is not defined`, r.line);
      if (
        type === 'DIMENSION' &&
        first(2) !== undefined &&
        !blocks.has(first(2)!.toUpperCase()) &&
        !this.names['BLOCK_RECORD']?.has(first(2)!.toUpperCase())
      )
        this.fault(`${type} ${h} shows ${first(2)}, which is not defined`, r.line);
      const style = first(7);
      if (
        (type === 'TEXT' || type === 'MTEXT' || type === 'ATTRIB') &&
        style !== undefined &&
        !this.names['STYLE']?.has(style.toUpperCase())
      )
        this.fault(`${type} ${h} has the style ${style}, which is not listed`, r.line);
      if (
        (type === 'DIMENSION' || type === 'LEADER') &&
        !this.names['DIMSTYLE']?.has((first(3) ?? 'Standard').toUpperCase())
      )
        this.fault(`${type} ${h} has the style ${first(3)}, which is not listed`, r.line);
      this.values(r, h, type);
      r.tags
        .filter((t) => t.code === 1001)
        .forEach((t) => {
          if (!this.names['APPID']?.has(t.value.toUpperCase()))
            this.fault(`${type} ${h} has data of ${t.value}, which is not listed`, t.line);
        });
    };
    // Blocks may be used before they are defined.
    for (const r of this.records('BLOCKS'))
      if (r.type === 'BLOCK') blocks.add((r.tags.find((t) => t.code === 2)?.value ?? '').toUpperCase());
    for (const r of this.records('BLOCKS')) {
      const first = (code: number): string | undefined => r.tags.find((t) => t.code === code)?.value;
      if (r.type === 'BLOCK') {
        if (inside) this.fault('a block without its end', r.line);
        inside = true;
        const key = (first(2) ?? '').toUpperCase();
        this.take(r, !r12);
        if (r12) continue;
        owner = this.recordHandles.get(`BLOCK_RECORD|${key}`) ?? '';
        if (owner === '') this.fault(`block ${first(2)} has no record`, r.line);
        else if (this.ownerOf(r) !== owner) this.fault(`block ${first(2)} is not owned by its record`, r.line);
        if (this.marks(r).join() !== 'AcDbEntity,AcDbBlockBegin')
          this.fault(`block ${first(2)} lacks its marks`, r.line);
      } else if (r.type === 'ENDBLK') {
        if (!inside) this.fault('an end without its block', r.line);
        inside = false;
        this.take(r, !r12);
        if (!r12 && this.ownerOf(r) !== owner) this.fault('the end of a block is not owned by its record', r.line);
      } else if (!inside) this.fault(`${r.type} outside a block`, r.line);
      else each(r, owner);
    }
    if (inside) this.fault('a block without its end');
    if (!r12)
      for (const n of this.names['BLOCK_RECORD'] ?? [])
        if (!blocks.has(n)) this.fault(`block record ${n} has no definition`);
    const model = this.recordHandles.get('BLOCK_RECORD|*MODEL_SPACE') ?? '';
    const paper = this.recordHandles.get('BLOCK_RECORD|*PAPER_SPACE') ?? '';
    for (const r of this.records('ENTITIES'))
      each(r, r.tags.some((t) => t.code === 67 && t.value.trim() === '1') ? paper : model);
    if (sequence.length > 0) this.fault(`${sequence[0]!.kind} without its SEQEND`);
  }

  /** Counts that a record states against what it lists, and numbers that cannot be. */
  private values(r: Rec, h: string, type: string): void {
    const n = (code: number): number => r.tags.filter((t) => t.code === code).length;
    const first = (code: number): number => Number(r.tags.find((t) => t.code === code)?.value);
    const bad = (what: string): void => this.fault(`${type} ${h} ${what}`, r.line);
    if (type === 'LWPOLYLINE' && first(90) !== n(10)) bad(`states ${first(90)} vertices and has ${n(10)}`);
    if (type === 'SPLINE') {
      if (first(72) !== n(40)) bad(`states ${first(72)} knots and has ${n(40)}`);
      if (first(73) !== n(10)) bad(`states ${first(73)} control points and has ${n(10)}`);
      if (first(74) !== n(11)) bad(`states ${first(74)} fit points and has ${n(11)}`);
      if (n(10) > 0 && n(40) !== n(10) + first(71) + 1) bad('has a number of knots that does not fit');
    }
    if (type === 'ELLIPSE' && !(first(40) > 0 && first(40) <= 1)) bad(`has the ratio ${first(40)}`);
    if ((type === 'CIRCLE' || type === 'ARC') && !(first(40) > 0)) bad(`has the radius ${first(40)}`);
    if ((type === 'TEXT' || type === 'MTEXT') && !(first(40) > 0)) bad(`has the height ${first(40)}`);
    if (type === 'HATCH' && first(91) !== n(92)) bad(`states ${first(91)} boundaries and has ${n(92)}`);
    if (type === 'LEADER' && first(76) !== n(10)) bad(`states ${first(76)} vertices and has ${n(10)}`);
  }

  private classes(): void {
    const names = this.records('CLASSES').map((r) => r.tags.find((t) => t.code === 1)?.value ?? '');
    if (new Set(names).size !== names.length) this.fault('a class stands twice');
    for (const r of this.records('CLASSES')) {
      const has = (code: number): boolean => r.tags.some((t) => t.code === code);
      if (r.type !== 'CLASS' || ![1, 2, 3, 90, 280, 281].every(has)) this.fault('a class is not whole', r.line);
      if (this.version >= 'AC1018' && !has(91)) this.fault('a class does not say how often it is used', r.line);
    }
    const all = [...this.records('OBJECTS'), ...this.records('ENTITIES')].map((r) => r.type);
    for (const needed of ['ACDBDICTIONARYWDFLT', 'ACDBPLACEHOLDER', 'LAYOUT', 'IMAGE', 'IMAGEDEF', 'WIPEOUT'])
      if (all.includes(needed) && !names.includes(needed)) this.fault(`${needed} is used and has no class`);
  }

  private objects(): void {
    const list = this.records('OBJECTS');
    const byHandle = new Map<string, Rec>();
    for (const r of list) {
      byHandle.set(this.take(r, true), r);
      const marks = this.marks(r);
      if (new Set(marks).size !== marks.length) this.fault(`${r.type} has a subclass mark twice`, r.line);
    }
    const root = list[0];
    if (root?.type !== 'DICTIONARY' || this.ownerOf(root) !== '0')
      this.fault('the first object is not the root dictionary');
    const entries = (r: Rec | undefined): Map<string, string> => {
      const out = new Map<string, string>();
      let name = '';
      for (const t of r?.tags ?? []) {
        if (t.code === 3) name = t.value;
        if (t.code === 350 || t.code === 360) out.set(name, t.value.trim().toUpperCase());
      }
      return out;
    };
    const top = entries(root);
    for (const n of ['ACAD_GROUP', 'ACAD_LAYOUT', 'ACAD_PLOTSTYLENAME'])
      if (!byHandle.has(top.get(n) ?? '')) this.fault(`the root dictionary lacks ${n}`);
    const layouts = entries(byHandle.get(top.get('ACAD_LAYOUT') ?? ''));
    if (!layouts.has('Model')) this.fault('there is no layout called Model');
    const spaces = new Set<string>();
    for (const [name, h] of layouts) {
      const r = byHandle.get(h);
      if (r?.type !== 'LAYOUT') {
        this.fault(`layout ${name} is not there`);
        continue;
      }
      const from = r.tags.findIndex((t) => t.code === 100 && t.value === 'AcDbLayout');
      const space =
        r.tags
          .slice(from)
          .find((t) => t.code === 330)
          ?.value.trim()
          .toUpperCase() ?? '';
      if (this.handles.get(space) !== 'BLOCK_RECORD') this.fault(`layout ${name} belongs to no block record`, r.line);
      if (spaces.has(space)) this.fault(`two layouts share a space`, r.line);
      spaces.add(space);
    }
    for (const r of this.records('TABLES')) {
      if (r.type !== 'BLOCK_RECORD') continue;
      const name = r.tags.find((t) => t.code === 2)?.value ?? '';
      const layout =
        r.tags
          .find((t) => t.code === 340)
          ?.value.trim()
          .toUpperCase() ?? '';
      if (/^\*(model|paper)_space/i.test(name) && ![...layouts.values()].includes(layout))
        this.fault(`${name} has no layout`, r.line);
    }
    for (const r of list) {
      const owner = this.ownerOf(r);
      if (r === root) continue;
      if (owner === undefined || !this.handles.has(owner))
        this.fault(`${r.type} ${this.handleOf(r)} is owned by ${owner}, which is not there`, r.line);
    }
    for (const r of list)
      if (/^DICTIONARY$|WDFLT$/.test(r.type))
        for (const [n, h] of entries(r))
          if (!this.handles.has(h)) this.fault(`entry ${n} of a dictionary leads nowhere`, r.line);
  }

  /** Hard pointers and owners lead to records that are there, or are 0. */
  private pointers(): void {
    for (const section of ['TABLES', 'BLOCKS', 'ENTITIES', 'OBJECTS']) {
      for (const r of this.records(section)) {
        for (const t of r.tags) {
          const pointer = (t.code >= 330 && t.code < 370) || (t.code >= 390 && t.code < 400) || t.code === 1005;
          const h = t.value
            .trim()
            .toUpperCase()
            .replace(/^0+(?=.)/, '');
          if (pointer && h !== '0' && !this.handles.has(h))
            this.fault(`group ${t.code} of ${r.type} points at ${h}, which is not there`, t.line);
        }
      }
    }
  }

  private seed(): void {
    const h = this.sections.get('HEADER') ?? [];
    const i = h.findIndex((t) => t.value === '$HANDSEED');
    const seed = parseInt(h[i + 1]?.value ?? '', 16);
    const most = [...this.handles.keys()].reduce((m, k) => Math.max(m, parseInt(k, 16)), 0);
    if (!(seed > most))
      this.fault(`the handle seed ${h[i + 1]?.value} is not above handle ${most.toString(16).toUpperCase()}`);
  }
}
