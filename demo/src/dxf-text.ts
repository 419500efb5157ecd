/** Where the drawing of the demo job is built up, tag by tag, as an old drafting program might have saved it. */
export class DxfText {
  private lines: string[] = [];

  /** Handles of what is added count up from here; each part of one file gets a range of its own. */
  constructor(private handle = 0x30) {}

  tag(code: number, value: string | number): this {
    this.lines.push(String(code).padStart(3), typeof value === 'number' ? real(code, value) : value);
    return this;
  }

  private begin(type: string, subclass: string, layer: string, colour?: number): this {
    this.tag(0, type).tag(5, (this.handle++).toString(16).toUpperCase()).tag(100, 'AcDbEntity').tag(8, layer);
    if (colour !== undefined) this.tag(62, colour);
    return this.tag(100, subclass);
  }

  line(layer: string, x0: number, y0: number, x1: number, y1: number, colour?: number): this {
    this.begin('LINE', 'AcDbLine', layer, colour);
    return this.tag(10, x0).tag(20, y0).tag(30, 0).tag(11, x1).tag(21, y1).tag(31, 0);
  }

  circle(layer: string, x: number, y: number, r: number, colour?: number): this {
    return this.begin('CIRCLE', 'AcDbCircle', layer, colour).tag(10, x).tag(20, y).tag(30, 0).tag(40, r);
  }

  arc(layer: string, x: number, y: number, r: number, from: number, to: number): this {
    this.begin('ARC', 'AcDbCircle', layer).tag(10, x).tag(20, y).tag(30, 0).tag(40, r);
    return this.tag(100, 'AcDbArc').tag(50, from).tag(51, to);
  }

  /** Vertices as x, y, bulge. */
  polyline(
    layer: string,
    vertices: readonly (readonly [number, number, number?])[],
    closed: boolean,
    colour?: number,
  ): this {
    this.begin('LWPOLYLINE', 'AcDbPolyline', layer, colour)
      .tag(90, vertices.length)
      .tag(70, closed ? 1 : 0);
    for (const [x, y, bulge] of vertices) {
      this.tag(10, x).tag(20, y);
      if (bulge) this.tag(42, bulge);
    }
    return this;
  }

  rectangle(layer: string, x: number, y: number, w: number, h: number, colour?: number): this {
    return this.polyline(
      layer,
      [
        [x, y],
        [x + w, y],
        [x + w, y + h],
        [x, y + h],
      ],
      true,
      colour,
    );
  }

  ellipse(layer: string, x: number, y: number, mx: number, my: number, ratio: number): this {
    this.begin('ELLIPSE', 'AcDbEllipse', layer).tag(10, x).tag(20, y).tag(30, 0).tag(11, mx).tag(21, my).tag(31, 0);
    return this.tag(40, ratio)
      .tag(41, 0)
      .tag(42, 2 * Math.PI);
  }

  spline(layer: string, points: readonly (readonly [number, number])[]): this {
    const n = points.length;
    this.begin('SPLINE', 'AcDbSpline', layer)
      .tag(70, 8)
      .tag(71, 3)
      .tag(72, n + 4)
      .tag(73, n)
      .tag(74, 0);
    for (let i = 0; i < n + 4; i++) this.tag(40, Math.max(0, Math.min(n - 3, i - 3)));
    for (const [x, y] of points) this.tag(10, x).tag(20, y).tag(30, 0);
    return this;
  }

  text(layer: string, x: number, y: number, height: number, text: string, align = 0): this {
    this.begin('TEXT', 'AcDbText', layer).tag(10, x).tag(20, y).tag(30, 0).tag(40, height).tag(1, text);
    if (align) this.tag(72, align).tag(11, x).tag(21, y).tag(31, 0);
    return this.tag(100, 'AcDbText');
  }

  insert(layer: string, block: string, x: number, y: number, scale = 1, angle = 0): this {
    this.begin('INSERT', 'AcDbBlockReference', layer).tag(2, block).tag(10, x).tag(20, y).tag(30, 0);
    return this.tag(41, scale).tag(42, scale).tag(43, 1).tag(50, angle);
  }

  solidHatch(layer: string, vertices: readonly (readonly [number, number])[], colour: number): this {
    this.begin('HATCH', 'AcDbHatch', layer, colour)
      .tag(10, 0)
      .tag(20, 0)
      .tag(30, 0)
      .tag(210, 0)
      .tag(220, 0)
      .tag(230, 1);
    this.tag(2, 'SOLID').tag(70, 1).tag(71, 0).tag(91, 1).tag(92, 3).tag(72, 0).tag(73, 1).tag(93, vertices.length);
    for (const [x, y] of vertices) this.tag(10, x).tag(20, y);
    return this.tag(97, 0).tag(75, 0).tag(76, 1).tag(98, 0);
  }

  get body(): string {
    return this.lines.join('\r\n') + '\r\n';
  }
}

/** Integers for codes that hold integers, reals with a point for the others. */
function real(code: number, value: number): string {
  const whole = (code >= 60 && code <= 79) || (code >= 90 && code <= 99);
  return whole || !Number.isInteger(value) ? String(value) : value.toFixed(1);
}

export interface LayerRow {
  name: string;
  colour: number;
  frozen?: boolean;
  off?: boolean;
  linetype?: string;
}

/** A whole DXF of version 2000 with the tables that readers look for. `units` is the value of $INSUNITS. */
export function dxfFile(
  units: number,
  layers: readonly LayerRow[],
  blocks: Record<string, DxfText>,
  entities: DxfText,
): string {
  const t = new DxfText();
  t.tag(0, 'SECTION').tag(2, 'HEADER').tag(9, '$ACADVER').tag(1, 'AC1015').tag(9, '$DWGCODEPAGE').tag(3, 'ANSI_1252');
  if (units > 0) t.tag(9, '$INSUNITS').tag(70, units);
  t.tag(9, '$LTSCALE').tag(40, 1).tag(0, 'ENDSEC');
  t.tag(0, 'SECTION').tag(2, 'TABLES').tag(0, 'TABLE').tag(2, 'LTYPE').tag(70, 2);
  t.tag(0, 'LTYPE').tag(2, 'Continuous').tag(70, 0).tag(3, 'Solid').tag(72, 65).tag(73, 0).tag(40, 0);
  t.tag(0, 'LTYPE').tag(2, 'AXIS').tag(70, 0).tag(3, 'Axis').tag(72, 65).tag(73, 4).tag(40, 200);
  for (const d of [120, -30, 20, -30]) t.tag(49, d).tag(74, 0);
  t.tag(0, 'ENDTAB').tag(0, 'TABLE').tag(2, 'LAYER').tag(70, layers.length);
  for (const l of layers) {
    t.tag(0, 'LAYER')
      .tag(2, l.name)
      .tag(70, l.frozen ? 1 : 0)
      .tag(62, l.off ? -l.colour : l.colour);
    t.tag(6, l.linetype ?? 'Continuous');
  }
  t.tag(0, 'ENDTAB').tag(0, 'ENDSEC').tag(0, 'SECTION').tag(2, 'BLOCKS');
  let out = t.body;
  for (const [name, content] of Object.entries(blocks)) {
    out += new DxfText()
      .tag(0, 'BLOCK')
      .tag(8, '0')
      .tag(2, name)
      .tag(70, 0)
      .tag(10, 0)
      .tag(20, 0)
      .tag(30, 0)
      .tag(3, name).body;
    out += content.body + new DxfText().tag(0, 'ENDBLK').tag(8, '0').body;
  }
  out += new DxfText().tag(0, 'ENDSEC').tag(0, 'SECTION').tag(2, 'ENTITIES').body;
  return out + entities.body + new DxfText().tag(0, 'ENDSEC').tag(0, 'EOF').body;
}
