import { describe, expect, it } from 'vitest';
import {
  targetFor,
  DRAFTING_DEFAULT,
  Ledger,
  NO_DECISIONS,
  deliver,
  prepare,
  proveDelivery,
  readDrawing,
} from '../../src/index.js';
import { BoundsSink } from '../../src/drawing/measures.js';
import { curvesOf } from '../../src/drawing/curves.js';
import { IDENTITY } from '../../src/geometry/affine.js';
import { textToOutlines } from '../../src/text/outlines.js';
import { DEMO, demoFile, drawingOf, fonts, risks } from '../helpers.js';
import { PLAIN_TEXT } from '../sketches.js';

const text = (more: object = {}) => ({
  kind: 'text',
  text: 'H',
  at: [10, 20, 0],
  size: 7,
  sizeOf: 'capital',
  ...PLAIN_TEXT,
  style: 'Standard',
  ...more,
});
const boxes = (d: ReturnType<typeof drawingOf>) =>
  d.entities.map((e) => {
    const sink = new BoundsSink();
    curvesOf(e, IDENTITY, sink);
    return sink.box;
  });
const outlined = (...entities: object[]) => {
  const ledger = new Ledger('write');
  return { drawing: textToOutlines(drawingOf(entities as never), fonts(), ledger), ledger: ledger.rows };
};

describe('text to outlines', () => {
  it('a capital stands on its baseline and is as high as the text says', () => {
    const [box] = boxes(outlined(text()).drawing);
    expect(box!.minY).toBeCloseTo(20, 9);
    expect(box!.maxY).toBeCloseTo(27, 2);
    expect(box!.minX).toBeGreaterThan(10);
  });
  it('turned, widened and right-aligned text goes with its place', () => {
    const [turned] = boxes(outlined(text({ rotation: Math.PI / 2 })).drawing);
    expect(turned!.maxX).toBeCloseTo(10, 9);
    expect(turned!.minX).toBeCloseTo(3, 2);
    const wide =
      boxes(outlined(text({ widthFactor: 2 })).drawing)[0]!.width / boxes(outlined(text()).drawing)[0]!.width;
    expect(wide).toBeCloseTo(2, 9);
    expect(boxes(outlined(text({ horizontal: 'right' })).drawing)[0]!.maxX).toBeLessThanOrEqual(10);
  });
  it('a letter with a hole stays one path of two outlines, filled and not stroked', () => {
    const [e] = outlined(text({ text: 'O' })).drawing.entities;
    expect(e!.kind === 'path' && e!.path.cmds.filter((c) => c === 0).length).toBe(2);
    expect(e!.look.stroke).toEqual({ kind: 'none' });
    expect(e!.look.fill).toEqual(DRAFTING_DEFAULT.stroke);
  });
  it('rich text keeps its colours; attributes come out beside their insert', () => {
    const rich = {
      kind: 'richText',
      content: 'a{\\C1;b}',
      plain: 'ab',
      at: [0, 0, 0],
      size: 3,
      width: 0,
      rotation: 0,
      horizontal: 'left',
      vertical: 'top',
      lineSpacing: 1,
    };
    const insert = {
      kind: 'insert',
      block: 'B',
      at: [0, 0, 0],
      scale: [1, 1, 1],
      rotation: 0,
      columns: 1,
      rows: 1,
      columnSpacing: 0,
      rowSpacing: 0,
      attributes: [{ ...text({ tag: 'NO' }), id: 7, layer: 'A', look: DRAFTING_DEFAULT }],
    };
    const { drawing } = outlined(rich, insert);
    expect(drawing.entities.map((e) => e.kind)).toEqual(['path', 'path', 'insert', 'path']);
    expect(drawing.entities[1]!.look.fill).toEqual({ kind: 'index', index: 1 });
  });
  it('characters that no font has are named', () => {
    expect(outlined(text({ text: 'A漢' })).ledger.map((r) => r.reason)).toContain(
      'characters that no available font has: 漢',
    );
  });
  it.each(DEMO)('%s, delivered so as DXF and SVG: the proof holds', (name) => {
    const { drawing } = readDrawing(demoFile(name), name);
    for (const format of ['dxf', 'svg'] as const) {
      const prepared = prepare(drawing, { ...NO_DECISIONS, layers: { mode: 'all', names: [] } }, []);
      const made = deliver(prepared.drawing, targetFor(format, { text: 'outlines' }), 'x', fonts());
      expect(risks(proveDelivery(drawing, prepared, made, made.bytes, fonts())), format).toEqual([]);
      const back = readDrawing(made.bytes, made.name).drawing;
      expect(back.entities.some((e) => e.kind === 'text' || e.kind === 'richText')).toBe(false);
    }
  });
});
