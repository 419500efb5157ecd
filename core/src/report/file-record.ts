import { boundsOf } from '../drawing/bounds.js';
import { colourDifference } from '../drawing/colour-difference.js';
import { curvesOf } from '../drawing/curves.js';
import type { Drawing } from '../drawing/drawing.js';
import { surveyOf } from '../drawing/survey.js';
import { Box2 } from '../geometry/box.js';
import { inventoryOf } from '../intake/inventory.js';
import type { LedgerRow } from '../drawing/ledger.js';
import { RELATIVE, recolouring } from '../proof/comparison.js';
import { differingLines } from '../proof/differing-lines.js';
import { finenessOf } from '../proof/fineness.js';
import type { Proof } from '../proof/prove.js';
import { previewMap, previewScale, previewSvg } from '../scene/preview.js';
import type { FileFacts } from '../sets/file-facts.js';
import { fileFacts } from '../sets/file-facts.js';
import { familyOf, linesOf } from '../text/layout.js';
import type { FontBook } from '../text/fonts.js';
import type { Held, Yardstick } from '../yardsticks/yardstick.js';
import { holdAgainst, unread } from '../yardsticks/measure.js';

/** A colour that was to be written and the one that was read back. */
export interface SwatchProof {
  /** As it was prepared, and as the file has it; `null` where the file has no such colour. */
  readonly hex: string;
  readonly read: string | null;
  readonly lines: number;
  readonly areas: number;
  readonly texts: number;
  /** What became of it, in words. */
  readonly rule: string;
}

/** Something counted in what was prepared and in the file. */
export interface Counted {
  readonly name: string;
  readonly prepared: number;
  readonly read: number;
}

/** A picture of a place; lengths in the unit of the file. */
export interface PlacePicture {
  readonly title: string;
  readonly x: number;
  readonly y: number;
  /** How much of the drawing it shows across. */
  readonly across: number;
  readonly svg: string;
}

/** What is known of a file that was written, beside its ledger and its proof: all that a report shows of it. */
export interface FileRecord {
  readonly facts: FileFacts;
  readonly swatches: readonly SwatchProof[];
  readonly kinds: readonly Counted[];
  readonly layers: readonly Counted[];
  /** Ends and corners of curves. */
  readonly points: { readonly prepared: number; readonly read: number };
  readonly blocks: { readonly prepared: number; readonly read: number };
  readonly texts: readonly { readonly text: string; readonly layer: string }[];
  readonly textCount: number;
  /** What the receiver needs beside the file: families of letters, pictures by their paths. */
  readonly needs: readonly string[];
  /** How fine curves were compared, and how near two places are one; in the unit of the file. */
  readonly bounds: { readonly chords: number; readonly same: number };
  readonly yardsticks: readonly { readonly yardstick: Yardstick; readonly held: Held }[];
  /** The whole, what was prepared and the file over each other, and places where they part. */
  readonly whole: PlacePicture;
  readonly places: readonly PlacePicture[];
}

/** The picture of the whole and that of a place, in pixels. */
export const WHOLE = [640, 360] as const;
const PLACE = [320, 240] as const;
const MOST_TEXTS = 200;
const MOST_PLACES = 6;
/** So much of the diagonal is seen of a place. */
const OF_DIAGONAL = 0.012;

/** Gathers what a report shows. `back`: the file read back, upright and in the unit of `written`; `null` where it cannot be read. */
export function fileRecord(
  written: Drawing,
  back: Drawing | null,
  proof: Proof,
  ledger: readonly LedgerRow[],
  yardsticks: readonly Yardstick[],
  fonts: FontBook,
): FileRecord {
  const [had, has] = [inventoryOf(written), back && inventoryOf(back)];
  const both = (a: readonly (readonly [string, number])[], b: readonly (readonly [string, number])[]): Counted[] => {
    const [ma, mb] = [new Map(a), new Map(b)];
    return [...new Set([...ma.keys(), ...mb.keys()])].map((name) => ({
      name,
      prepared: ma.get(name) ?? 0,
      read: mb.get(name) ?? 0,
    }));
  };
  const texts = textsOf(written, fonts);
  const unit = proof.unit;
  const overlaid = new Overlay(written, back, fonts);
  return {
    facts: fileFacts(written),
    swatches: swatchesOf(had.swatches, has?.swatches ?? [], ledger),
    kinds: both(
      had.kinds.map((k) => [k.kind, k.count]),
      (has?.kinds ?? []).map((k) => [k.kind, k.count]),
    ),
    layers: both(
      had.layers.map((l) => [l.name, l.entities]),
      (has?.layers ?? []).map((l) => [l.name, l.entities]),
    ),
    points: { prepared: pointsOf(written), read: back ? pointsOf(back) : 0 },
    blocks: { prepared: placedIn(written), read: back ? placedIn(back) : 0 },
    texts: texts.slice(0, MOST_TEXTS),
    textCount: texts.length,
    needs: needsOf(written),
    bounds: boundsOfProof(written),
    yardsticks: (back ? holdAgainst(yardsticks, back, fonts) : yardsticks.map(unread)).map((held, i) => ({
      yardstick: yardsticks[i]!,
      held,
    })),
    whole: overlaid.whole(unit),
    places: placesOf(proof).map((p) => overlaid.place(p)),
  };
}

/** Places of the rows that speak against the proof first, then of what was changed or lost. */
function placesOf({ items }: Proof): { title: string; x: number; y: number }[] {
  const weight = { atRisk: 0, lost: 1, changed: 2, undecided: 3, kept: 4 };
  return items
    .filter((i) => i.at && i.state !== 'kept')
    .sort((a, b) => weight[a.state] - weight[b.state])
    .slice(0, MOST_PLACES)
    .map((i) => ({ title: `${i.title}: ${i.found}`, x: i.at!.x, y: i.at!.y }));
}

/** How different two colours look (`colourDifference`), to a tenth. */
const difference = (a: string, b: string): string =>
  colourDifference(parseInt(a.slice(1), 16), parseInt(b.slice(1), 16)).toFixed(1);

function swatchesOf(
  had: readonly { hex: string; lines: number; areas: number; texts: number }[],
  has: readonly { hex: string }[],
  ledger: readonly LedgerRow[],
): SwatchProof[] {
  const there = new Set(has.map((s) => s.hex));
  const became = recolouring(ledger);
  return had.map(({ hex, lines, areas, texts }): SwatchProof => {
    const to = became.get(hex);
    const own = { hex, lines, areas, texts };
    if (there.has(hex) && to === undefined) return { ...own, read: hex, rule: 'equal to the digit' };
    if (to !== undefined && there.has(to))
      return { ...own, read: to, rule: `became another, as the ledger says; difference ${difference(hex, to)}` };
    return { ...own, read: null, rule: 'not found in the file' };
  });
}

function needsOf(written: Drawing): string[] {
  const families = new Set<string>();
  const pictures = new Set<string>();
  surveyOf(written).each(({ entity: e }) => {
    if (e.kind === 'text' || e.kind === 'richText') families.add(familyOf(e, written) || 'whatever font it takes');
    if (e.kind === 'image' && e.file !== undefined && e.data === undefined) pictures.add(e.file);
  });
  return [...[...families].map((f) => `letters in ${f}`), ...[...pictures].map((p) => `the picture ${p}`)];
}

function boundsOfProof(written: Drawing): FileRecord['bounds'] {
  const size = boundsOf(written, { hidden: true }).diagonal || 1;
  return { chords: finenessOf(size, written.entities.length), same: size * RELATIVE };
}

function textsOf(drawing: Drawing, fonts: FontBook): { text: string; layer: string }[] {
  const out: { text: string; layer: string }[] = [];
  surveyOf(drawing).each(({ entity: e, resolved }) => {
    if (e.kind !== 'text' && e.kind !== 'richText') return;
    const text =
      e.kind === 'text'
        ? e.text
        : linesOf(e, drawing, fonts)
            .map((l) => l.text)
            .join(' ');
    out.push({ text, layer: resolved.layer });
  });
  return out;
}

function pointsOf(drawing: Drawing): number {
  let n = 0;
  const one = (): void => void n++;
  surveyOf(drawing).each(({ entity, toWorld }) => {
    if (entity.kind === 'text' || entity.kind === 'richText' || entity.kind === 'insert') return;
    curvesOf(entity, toWorld, {
      move: one,
      line: one,
      arc: one,
      cubic: one,
      nurbs: (c) => void (n += c.points.length / 3),
    });
  });
  return n;
}

const placedIn = (d: Drawing): number => d.entities.filter((e) => e.kind === 'insert').length;

/** What was prepared in faint ink, and over it what only it has and what only the file has. */
class Overlay {
  private readonly gone: Float64Array;
  private readonly added: Float64Array;
  private readonly box: Box2;

  constructor(
    private readonly written: Drawing,
    back: Drawing | null,
    fonts: FontBook,
  ) {
    const none = new Float64Array(0);
    const lines = back ? differingLines(written, back, fonts) : { gone: none, added: none };
    [this.gone, this.added] = [lines.gone, lines.added];
    this.box = boundsOf(written);
    if (back) this.box.addBox(boundsOf(back));
  }

  whole(unit: string): PlacePicture {
    const { box } = this;
    const title = `The whole, in ${unit}`;
    const [x, y] = box.empty ? [0, 0] : [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2];
    return { title, x, y, across: box.empty ? 0 : WHOLE[0] / previewScale(box, ...WHOLE), svg: this.draw(box, WHOLE) };
  }

  place({ title, x, y }: { title: string; x: number; y: number }): PlacePicture {
    const half = (this.box.diagonal || 1) * OF_DIAGONAL * 0.5;
    const frame = Box2.of(x - half, y - half, x + half, y + half);
    return { title, x, y, across: PLACE[0] / previewScale(frame, ...PLACE), svg: this.draw(frame, PLACE) };
  }

  private draw(frame: Box2, [width, height]: readonly [number, number]): string {
    if (frame.empty) return previewSvg(this.written, width, height);
    const { at: placed } = previewMap(frame, width, height);
    const base = previewSvg(this.written, width, height, undefined, frame).replace(/^<svg[^>]*>|<\/svg>$/g, '');
    const path = (chords: Float64Array): string => {
      let d = '';
      for (let i = 0; i < chords.length && d.length < 120_000; i += 4) {
        const ends = [0, 2].map((j) => placed(chords[i + j]!, chords[i + j + 1]!));
        if (ends.some(([u, v]) => Math.abs(u) > 1e5 || Math.abs(v) > 1e5)) continue;
        d += ends.map(([u, v], j) => `${j === 0 ? 'M' : 'L'}${u.toFixed(1)} ${v.toFixed(1)}`).join('');
      }
      return d;
    };
    const [gone, added] = [path(this.gone), path(this.added)];
    return (
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}"><g opacity="${gone || added ? '.45' : '1'}">${base}</g>` +
      (gone ? `<path d="${gone}" fill="none" stroke="#1d2530" stroke-width="2.4" stroke-dasharray="7 4"/>` : '') +
      (added ? `<path d="${added}" fill="none" stroke="#97351b" stroke-width="2"/>` : '') +
      '</svg>'
    );
  }
}
