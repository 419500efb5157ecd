import { kindsCounted } from './kinds-counted.js';
import { because } from '../../drawing/reasons.js';
import type { CarriedRecord, Drawing, Sheet } from '../../drawing/drawing.js';
import type { EntityContext } from './entity-tags.js';
import { handleOf, parseRaw, rawValue } from './raw-tags.js';
import { carriedRecord } from './records.js';
import { PICTURE_DICTIONARY } from './picture-definitions.js';
import { knowsKind } from './versions.js';
import { writeGroup } from './write-groups.js';

interface LayoutPlace {
  sheet: Sheet | null;
  handle: string;
  carried: CarriedRecord | undefined;
}

/** Dictionaries that this writer makes itself, from what the source's hold and what the file needs. */
const NEEDED = ['ACAD_GROUP', 'ACAD_LAYOUT', 'ACAD_PLOTSTYLENAME'] as const;

/** The OBJECTS section: the source's own objects, and the dictionaries and layouts that every file needs. */
export class ObjectWriter {
  /** The placeholder that plot style names point at. */
  readonly plotStyle: string;
  private readonly root: string;
  private readonly rootEntries: [string, string][] = [];
  private readonly byKey = new Map<string, CarriedRecord>();
  private readonly own: CarriedRecord[];
  private readonly layouts: LayoutPlace[] = [];
  private readonly handles = new Map<string, string>();
  private readonly made = new Set<CarriedRecord>();

  constructor(
    private readonly x: EntityContext,
    drawing: Drawing,
    sheets: readonly Sheet[],
  ) {
    const objects = x.sameFormat && !x.r12 ? drawing.carried.objects : [];
    this.own = objects.filter(
      (o) => o.key !== '' && (x.sameVersion || knowsKind(x.version, o.type)) && x.holds(o.type, o.raw),
    );
    const kept = new Set(this.own);
    const newer = objects.length - this.own.length;
    if (newer > 0) {
      x.ledger.add({
        carryOver: 'links',
        action: 'dropped',
        reason: because('objects-without-place', {
          what: kindsCounted(objects.filter((o) => !kept.has(o)).map((o) => o.type)),
        }),
        count: newer,
        onPurpose: true,
      });
    }
    for (const o of this.own) this.byKey.set(o.key, o);
    const root = this.own.find((o) => o.type === 'DICTIONARY' && /^0*$/.test(rawValue(parseRaw(o.raw), 330) ?? ''));
    this.root = x.handles.record(root?.key, true);
    if (root) {
      this.made.add(root);
      this.rootEntries = entriesOf(root);
    }
    for (const name of NEEDED) {
      const given = this.rootEntries.find((e) => e[0] === name)?.[1];
      const record = given === undefined ? undefined : this.byKey.get(given);
      const handle = x.handles.record(record?.key, true);
      this.handles.set(name, handle);
      if (!record) {
        const at = this.rootEntries.findIndex((e) => e[0] === name);
        if (at >= 0) this.rootEntries.splice(at, 1);
        this.rootEntries.push([name, handle]);
      }
      if (record && name === 'ACAD_LAYOUT') this.made.add(record);
    }
    const layoutRecords = new Map(
      this.own
        .filter((o) => o.type === 'LAYOUT')
        .map((o) => {
          const tags = parseRaw(o.raw);
          const start = tags.findIndex(([c, v]) => c === 100 && v.trim() === 'AcDbLayout');
          return [rawValue(tags.slice(start + 1), 1) ?? '', o] as const;
        }),
    );
    const place = (sheet: Sheet | null): void => {
      const name = sheet?.name ?? 'Model';
      const carried =
        layoutRecords.get(name) ?? [...layoutRecords].find(([n]) => n.toLowerCase() === name.toLowerCase())?.[1];
      this.layouts.push({ sheet, handle: x.handles.record(carried?.key, true), carried });
    };
    place(null);
    sheets.forEach(place);
    // Layouts whose sheet is gone go too.
    for (const o of this.own) if (o.type === 'LAYOUT') this.made.add(o);
    const styles = this.byKey.get(this.handles.get('ACAD_PLOTSTYLENAME')!);
    const standard = styles ? handleOf(rawValue(parseRaw(styles.raw), 340)) : null;
    this.plotStyle = standard !== null && this.byKey.has(standard) ? standard : x.handles.fresh();
  }

  layoutOf(sheet: Sheet | null): string {
    return this.layouts.find((l) => l.sheet === sheet)?.handle ?? '0';
  }

  /** The handles of all objects that will be written. */
  keys(): string[] {
    return [
      ...this.own.filter((o) => o.type !== 'LAYOUT').map((o) => o.key),
      this.root,
      this.plotStyle,
      ...this.x.pictures.handles(),
      ...this.handles.values(),
      ...this.layouts.map((l) => l.handle),
    ];
  }

  write(spaceOf: (sheet: Sheet | null) => string): void {
    const { x } = this;
    const { out } = x;
    out.string(0, 'SECTION');
    out.string(2, 'OBJECTS');
    const entries = this.rootEntries.filter(([, h]) => x.pointers.has(h));
    const pictures = this.pictureDictionary();
    if (pictures && !pictures.carried) entries.push([PICTURE_DICTIONARY, pictures.handle]);
    this.dictionary(this.root, '0', entries);
    if (pictures) {
      const own = pictures.carried ? entriesOf(pictures.carried).filter(([, h]) => x.pointers.has(h)) : [];
      this.dictionary(pictures.handle, this.root, [...own, ...x.pictures.entries(own.map(([name]) => name))]);
      x.pictures.write(out, pictures.handle);
    }
    const group = this.handles.get('ACAD_GROUP')!;
    const groups = this.byKey.has(group) ? [] : x.groups.groups.map((g) => ({ g, handle: x.handles.fresh() }));
    if (!this.byKey.has(group))
      this.dictionary(
        group,
        this.root,
        groups.map(({ g, handle }) => [g.name, handle] as const),
      );
    for (const { g, handle } of groups) writeGroup(out, g, handle, group);
    this.dictionary(
      this.handles.get('ACAD_LAYOUT')!,
      this.root,
      this.layouts.map((l) => [l.sheet?.name ?? 'Model', l.handle]),
    );
    const styles = this.handles.get('ACAD_PLOTSTYLENAME')!;
    if (!this.byKey.has(styles)) this.plotStyles(styles);
    else if (!this.byKey.has(this.plotStyle)) this.placeholder(styles);
    for (const l of this.layouts) this.layout(l, spaceOf(l.sheet));
    const listed = this.listed();
    let put = 0;
    for (const o of this.own) {
      if (this.made.has(o)) continue;
      x.handles.record(o.key, true);
      const owner = lacksOwner(o) ? listed.get(o.key) : undefined;
      if (owner !== undefined) put++;
      out.raw(carriedRecord(x, o.raw, owner ?? null));
    }
    if (put > 0)
      x.ledger.add({ carryOver: 'links', action: 'changed', onPurpose: true, reason: 'owners-put', count: put });
    out.string(0, 'ENDSEC');
  }

  /** Where pictures are listed that the source has no definition for; `null` where there are none. */
  private pictureDictionary(): { handle: string; carried: CarriedRecord | undefined } | null {
    if (this.x.pictures.empty) return null;
    const given = this.rootEntries.find(([name]) => name === PICTURE_DICTIONARY)?.[1];
    const carried = given === undefined ? undefined : this.byKey.get(given);
    if (carried) this.made.add(carried);
    return { handle: carried ? this.x.handles.record(carried.key, true) : this.x.handles.fresh(), carried };
  }

  /** The dictionary that lists an object, or the object that owns it for good, by the handle of the object. */
  private listed(): Map<string, string> {
    const out = new Map<string, string>();
    const note = (owner: string, entries: readonly [string, string][]): void => {
      for (const [, handle] of entries) if (!out.has(handle)) out.set(handle, owner);
    };
    note(this.root, this.rootEntries);
    for (const o of this.own) {
      if (this.made.has(o) || !this.x.pointers.has(o.key)) continue;
      if (DICTIONARIES.has(o.type)) note(o.key, entriesOf(o));
      // What is owned for good, an extension dictionary say.
      for (const [code, value] of parseRaw(o.raw)) if (code === 360) note(o.key, [['', handleOf(value) ?? '']]);
    }
    return out;
  }

  private dictionary(handle: string, owner: string, entries: readonly (readonly [string, string])[]): void {
    const { out } = this.x;
    out.string(0, 'DICTIONARY');
    out.string(5, handle);
    out.string(330, owner);
    out.string(100, 'AcDbDictionary');
    out.integer(281, 1);
    for (const [name, target] of entries) {
      out.string(3, name);
      out.string(350, target);
    }
  }

  private plotStyles(handle: string): void {
    const { out } = this.x;
    out.string(0, 'ACDBDICTIONARYWDFLT');
    out.string(5, handle);
    out.string(330, this.root);
    out.string(100, 'AcDbDictionary');
    out.integer(281, 1);
    out.string(3, 'Normal');
    out.string(350, this.plotStyle);
    out.string(100, 'AcDbDictionaryWithDefault');
    out.string(340, this.plotStyle);
    this.placeholder(handle);
  }

  private placeholder(owner: string): void {
    const { out } = this.x;
    out.string(0, 'ACDBPLACEHOLDER');
    out.string(5, this.plotStyle);
    out.string(330, owner);
  }

  private layout(l: LayoutPlace, space: string): void {
    const { x } = this;
    const { out } = x;
    const owner = this.handles.get('ACAD_LAYOUT')!;
    if (l.carried) {
      out.raw(carriedRecord(x, l.carried.raw, owner));
      return;
    }
    const { sheet, handle } = l;
    const paper = sheet?.paper ?? { width: 297, height: 210, marginLeft: 7.5, marginBottom: 7.5 };
    out.string(0, 'LAYOUT');
    out.string(5, handle);
    out.string(330, owner);
    out.string(100, 'AcDbPlotSettings');
    out.string(1, '');
    out.string(2, 'none_device');
    out.string(4, '');
    out.string(6, '');
    out.number(40, paper.marginLeft);
    out.number(41, paper.marginBottom);
    out.number(42, paper.marginLeft);
    out.number(43, paper.marginBottom);
    out.number(44, paper.width);
    out.number(45, paper.height);
    for (const code of [46, 47, 48, 49, 140, 141]) out.number(code, 0);
    out.number(142, 1);
    out.number(143, 1);
    out.integer(70, sheet === null ? 1024 : 0);
    out.integer(72, 1);
    out.integer(73, 0);
    out.integer(74, 5);
    out.string(7, '');
    out.integer(75, 16);
    out.number(147, 1);
    out.number(148, 0);
    out.number(149, 0);
    out.string(100, 'AcDbLayout');
    out.string(1, sheet?.name ?? 'Model');
    out.integer(70, 1);
    out.integer(71, sheet?.order ?? 0);
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

/** The entries of a dictionary: name and handle. */
const DICTIONARIES = new Set(['DICTIONARY', 'ACDBDICTIONARYWDFLT']);

/** Whether an object says nothing of what owns it, which files from R13 on have to. */
function lacksOwner(o: CarriedRecord): boolean {
  let within = 0;
  for (const [code, value] of parseRaw(o.raw)) {
    if (code === 100) break;
    if (code === 102) within += value.trim().startsWith('{') ? 1 : -1;
    else if (code === 330 && within === 0) return /^0*$/.test(value.trim());
  }
  return true;
}

function entriesOf(o: CarriedRecord): [string, string][] {
  const out: [string, string][] = [];
  let name: string | null = null;
  for (const [code, value] of parseRaw(o.raw)) {
    if (code === 3) name = value;
    else if ((code === 350 || code === 360) && name !== null) {
      const handle = handleOf(value);
      if (handle !== null) out.push([name, handle]);
      name = null;
    }
  }
  return out;
}
