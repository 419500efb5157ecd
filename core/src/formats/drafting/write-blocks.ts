import { MADE_SHEET } from './read-common.js';
import { because } from '../../drawing/reasons.js';
import type { Block, Drawing, Sheet } from '../../drawing/drawing.js';
import { isDrafting } from '../../drawing/drawing.js';
import type { Entity } from '../../drawing/entity.js';
import type { EntityTags } from './entity-tags.js';
import { beginRecord, beginTable, endRecord } from './records.js';
import type { TagSink } from './tag-sink.js';

/** A space with its block: model space, a sheet, or a block proper. */
interface Space {
  name: string;
  block: Block | undefined;
  record: string;
  layout: string;
  sheet: Sheet | null;
  entities: readonly Entity[];
}

const isSheetBlock = (name: string): boolean => /^[*$](paper|model)_space/i.test(name);

/** Block records, block definitions and the spaces that entities lie in. */
export class BlockWriter {
  readonly model: Space;
  readonly sheets: Space[];
  private readonly blocks: Space[];

  constructor(
    private readonly w: EntityTags,
    private readonly drawing: Drawing,
    sheets: readonly Sheet[],
    /** Handle of the layout object of a sheet, or of model space. */
    layoutOf: (sheet: Sheet | null) => string,
  ) {
    const { x } = w;
    const space = (name: string, sheet: Sheet | null, entities: readonly Entity[]): Space => {
      const block = drawing.blocks.get(name.toLowerCase());
      return {
        name,
        block,
        record: x.handles.record(block?.key, x.sameFormat),
        layout: layoutOf(sheet),
        sheet,
        entities,
      };
    };
    this.model = space('*Model_Space', null, []);
    this.sheets = sheets.map((s) =>
      space(
        s.block,
        s,
        drawing.entities.filter((e) => e.sheet === s.name),
      ),
    );
    this.blocks = [...drawing.blocks.values()]
      .filter((b) => !isSheetBlock(b.name))
      .map((block) => ({
        name: block.name,
        block,
        record: x.handles.record(block.key, x.sameFormat),
        layout: '0',
        sheet: null,
        entities: block.entities,
      }));
    const lost = [...drawing.blocks.values()]
      .filter((b) => isSheetBlock(b.name) && !sheets.some((s) => s.block.toLowerCase() === b.name.toLowerCase()))
      .reduce((n, b) => n + b.entities.length, 0);
    if (lost > 0) x.ledger.add({ carryOver: 'links', action: 'dropped', reason: 'paper-without-sheet', count: lost });
    // Names in use come first, so that a block keeps its own name when another would meet it.
    for (const b of this.blocks) x.blocks.nameFor(b.name);
  }

  records(out: TagSink): void {
    const { x } = this.w;
    const all = [this.model, ...this.sheets, ...this.blocks];
    const table = beginTable(x, out, 'BLOCK_RECORD', all.length);
    for (const s of all) {
      beginRecord(x, out, 'BLOCK_RECORD', table, 'AcDbBlockTableRecord', s.record, s.block?.rest);
      out.string(2, this.nameOf(s));
      out.string(340, s.layout);
      if (x.version >= 'AC1021' && s.block?.unitCode) out.integer(70, s.block.unitCode);
      endRecord(x, out, s.block?.rest, ([c]) => x.version < 'AC1021' && (c === 280 || c === 281));
    }
    out.string(0, 'ENDTAB');
  }

  private nameOf(s: Space): string {
    return isSheetBlock(s.name) ? s.name : this.w.x.blocks.nameFor(s.name);
  }

  definitions(): void {
    const { x } = this.w;
    if (!x.r12) {
      this.definition(this.model);
      for (const s of this.sheets) this.definition(s);
    }
    for (const b of this.blocks) this.definition(b);
  }

  /** The ENTITIES section: model space, then the sheet whose block is *Paper_Space. `each` is told of progress. */
  entities(each: () => void): void {
    const { x } = this.w;
    for (const e of this.drawing.entities) {
      if (e.sheet !== undefined) continue;
      each();
      this.w.write(e, this.model.record);
    }
    const [first] = this.sheets;
    if (first) this.paper(first);
    if (!x.oneSheet) return;
    for (const e of this.drawing.entities) {
      if (e.sheet === undefined || e.sheet === first?.sheet?.name) continue;
      const reason = because('one-sheet-only', { form: x.form, version: x.r12 ? 'R12' : 'R14' });
      x.ledger.add({ carryOver: 'links', action: 'dropped', reason, id: e.id, onPurpose: true });
    }
  }

  private paper(s: Space): void {
    const { x } = this.w;
    x.paper = true;
    for (const e of s.entities) this.w.write(e, s.record);
    x.paper = false;
  }

  private definition(s: Space): void {
    const { x } = this.w;
    const { out } = x;
    const { block, sheet } = s;
    const name = this.nameOf(s);
    const begin = (type: string, subclass: string, key: string | undefined): void => {
      out.string(0, type);
      out.string(5, x.handles.record(key, x.sameFormat));
      if (!x.r12) {
        out.string(330, s.record);
        out.string(100, 'AcDbEntity');
        if (sheet) out.integer(67, 1);
      }
      out.string(8, x.layers.nameFor(block?.layer ?? '0'));
      if (!x.r12) out.string(100, subclass);
    };
    begin('BLOCK', 'AcDbBlockBegin', block?.beginKey);
    out.string(2, name);
    const anonymous = name.startsWith('*') && !isSheetBlock(name);
    const attributes = s.entities.some((e) => e.kind === 'text' && e.definition !== undefined);
    out.integer(70, (anonymous ? 1 : 0) | (attributes ? 2 : 0) | (block?.reference ? 4 : 0) | (block?.flags ?? 0));
    out.point(10, block?.base ?? [0, 0, 0]);
    out.string(3, name);
    out.string(1, block?.reference ?? '');
    if (block?.description && (!x.r12 || x.sameVersion)) out.string(4, block.description);
    endRecord(x, out, block?.beginRest);
    // The entities of model space and of the first sheet stand in their own section.
    if (s === this.sheets[0]) void 0;
    else if (sheet) this.paper(s);
    else if (s !== this.model) for (const e of s.entities) this.w.write(e, s.record);
    begin('ENDBLK', 'AcDbBlockEnd', block?.endKey);
  }
}

/** The sheets to write, the one whose block is *Paper_Space first; a drawing without sheets gets an empty one. */
export function sheetsOf(drawing: Drawing): Sheet[] {
  const own = isDrafting(drawing) ? drawing.sheets : [];
  if (own.length === 0) return [{ name: MADE_SHEET, block: '*Paper_Space', order: 1, unitsPerMm: 1 }];
  const active = own.find((s) => s.block.toLowerCase() === '*paper_space');
  return active ? [active, ...own.filter((s) => s !== active)] : [...own];
}
