import { DRAFTING_DEFAULT } from '../../drawing/appearance.js';
import { curvesOf } from '../../drawing/curves.js';
import type { Clip } from '../../drawing/entity.js';
import type { Affine } from '../../geometry/affine.js';
import { IDENTITY, compose, scaling, translation } from '../../geometry/affine.js';
import type { Box2 } from '../../geometry/box.js';
import { PathPen } from './page-pen.js';

/** The content of a page as it comes about: what is said of how things are drawn is said only when it changes. */
export class PageContent {
  readonly toPage: Affine;
  /** What things are drawn with now, by operator. */
  said = new Map<string, string>();
  private saidOutside = new Map<string, string>();
  private readonly lines: string[] = [];
  private layer: string | null = null;
  private clip: Clip | undefined;

  /** `k`: units of the page to a unit of the drawing. */
  constructor(
    readonly box: Box2,
    k: number,
    private readonly tolerance: number,
  ) {
    this.toPage = compose(scaling(k, k, 1), translation(-box.minX, -box.minY));
  }

  /** Says an operator of the graphics state where it is not said already. */
  say(operator: string, operands: string): string[] {
    if (this.said.get(operator) === operands) return [];
    this.said.set(operator, operands);
    return [`${operands} ${operator}`];
  }

  /** Puts content between the marks of its layer (ISO 32000-2, 8.11.3.2). */
  put(layer: string, resource: string, lines: readonly string[]): void {
    if (this.layer !== layer) {
      this.endLayer();
      this.lines.push(`/OC /${resource} BDC`);
      this.layer = layer;
    }
    for (const l of lines) this.lines.push(l);
  }

  private endLayer(): void {
    if (this.layer !== null) this.lines.push('EMC');
    this.layer = null;
  }

  /** Begins what is cut to a clip, and ends what was cut to another; what is said within it is forgotten after it. */
  cutTo(clip: Clip | undefined): void {
    if (this.clip === clip) return;
    this.endLayer();
    if (this.clip) {
      this.lines.push('Q');
      this.said = this.saidOutside;
    }
    this.clip = clip;
    if (!clip) return;
    this.saidOutside = new Map(this.said);
    this.lines.push('q');
    for (let c: Clip | undefined = clip; c; c = c.within) {
      for (const { path } of c.shapes) {
        const pen = new PathPen(this.toPage, this.tolerance);
        curvesOf({ kind: 'path', id: 0, layer: '', look: DRAFTING_DEFAULT, path }, IDENTITY, pen);
        this.lines.push(pen.finish());
      }
      this.lines.push(c.shapes.every((s) => s.rule === 'evenodd') ? 'W* n' : 'W n');
    }
  }

  /** The whole content; nothing follows it. */
  get text(): string {
    this.cutTo(undefined);
    this.endLayer();
    return `${this.lines.join('\n')}\n`;
  }
}
