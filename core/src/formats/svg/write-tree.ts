import type { Drawing, Layer } from '../../drawing/drawing.js';
import { layerIndex, layerKey } from '../../drawing/drawing.js';
import type { Visit } from '../../drawing/resolve.js';
import { idSays, plainId } from './names.js';
import type { Properties } from './write-style.js';
import { escapeXml } from './escape.js';

interface Group {
  key: string;
  name: string;
  id: string;
  hidden: boolean;
  items: (Group | Leaf)[];
}

interface Leaf {
  element: string;
  id: string | null;
  attributes: Properties;
  style: Properties;
  text?: string | { xml: string };
}

/** Properties that children take from a group; only these can be said once for all of them. */
const INHERITED = /^(fill|stroke|font|text)/;

/** Gathers elements into groups by layer, group node and insert, and renders them with as little style as needed. */
export class SvgTree {
  private readonly root: Group = { key: '', name: '', id: '', hidden: false, items: [] };
  private readonly ids = new Map<string, number>();
  private readonly layers: Map<string, Layer>;
  private readonly open = new Map<string, Group>();
  private trail: Group[] = [];
  private inheritedLast: Properties | null = null;
  private ownStyles = new Map<Properties, string>();
  private readonly classes = new Map<string, string>();
  private readonly inserts = new Map<number, string>();
  private readonly tracks: string[] = [];
  /** Nothing that is put is written while it is set. */
  muted = false;

  constructor(
    private readonly drawing: Drawing,
    private readonly styleForm: 'inline' | 'plain' | 'sheet',
  ) {
    this.layers = layerIndex(drawing);
  }

  private uniqueId(wanted: string): string {
    const taken = this.ids.get(wanted);
    if (taken === undefined) {
      this.ids.set(wanted, 1);
      return wanted;
    }
    let n = taken + 1;
    while (this.ids.has(`${wanted}-${n}`)) n++;
    this.ids.set(wanted, n);
    this.ids.set(`${wanted}-${n}`, 1);
    return `${wanted}-${n}`;
  }

  /** Makes a layer's group even when nothing lies on it, so that it is carried and in its order. */
  openLayer(layer: Layer): void {
    this.layerGroup(layer.name);
  }

  /** Begins another group of a layer after all that is there. */
  openAnew(layer: string): void {
    this.open.delete(layerKey(this.drawing, layer));
    this.layerGroup(layer);
  }

  /** Puts in layers that hold nothing, each after the one that comes before it in the list. */
  fillIn(layers: readonly Layer[]): void {
    let after = -1;
    for (const layer of layers) {
      const key = layerKey(this.drawing, layer.name);
      const at = this.root.items.findLastIndex((g) => (g as Group).key === key);
      if (at >= 0) after = at;
      else {
        const made = this.newGroup(key, layer.name);
        this.root.items.splice(++after, 0, made);
      }
    }
  }

  private layerGroup(name: string): Group {
    const key = layerKey(this.drawing, name);
    const known = this.open.get(key);
    if (known) return known;
    const group = this.newGroup(key, name);
    this.open.set(key, group);
    this.root.items.push(group);
    return group;
  }

  private newGroup(key: string, name: string): Group {
    const layer = this.layers.get(key);
    return {
      key,
      name: layer?.name ?? name,
      id: this.uniqueId(plainId(layer?.name ?? name)),
      hidden: (layer?.off ?? false) || (layer?.frozen ?? false),
      items: [],
    };
  }

  /** The groups inside the layer: named nodes of the source, then the insert an element came from. */
  private chain(v: Visit): { key: string; name: string; id: string }[] {
    const out: { key: string; name: string; id: string }[] = [];
    for (let n = v.top.node; n !== undefined && n !== null; n = this.drawing.nodes[n]?.parent ?? undefined) {
      const node = this.drawing.nodes[n]!;
      if (node.name !== '') out.unshift({ key: `node ${n}`, name: node.name, id: node.key ?? plainId(node.name) });
    }
    if (out[0]?.name === v.top.layer) out.shift();
    if (v.depth > 0 && v.top.kind === 'insert')
      out.push({ key: `insert ${v.top.id}`, name: v.top.block, id: plainId(v.top.block) });
    return out;
  }

  /** The id of the group of an insert that was put. */
  insertId(insert: number): string | undefined {
    return this.inserts.get(insert);
  }

  /** A path that is not drawn but followed by text; its id. */
  define(d: string): string {
    if (this.muted) return '';
    const id = this.uniqueId(`track-${this.tracks.length + 1}`);
    this.tracks.push(`<path id="${id}" d="${d}"/>`);
    return id;
  }

  /** What of a picture is seen, as a polygon; its id. */
  clip(points: string): string {
    if (this.muted) return '';
    const id = this.uniqueId(`clip-${this.tracks.length + 1}`);
    this.tracks.push(`<clipPath id="${id}"><polygon points="${points}"/></clipPath>`);
    return id;
  }

  put(v: Visit, element: string, attributes: Properties, style: Properties, text?: string | { xml: string }): void {
    if (this.muted) return;
    const hiddenAlone = !v.entity.look.visible;
    // An insert's parts stay with the insert; in drafting their own layers may differ from it.
    const layer = v.depth > 0 ? v.top.layer : v.resolved.layer;
    let group = this.layerGroup(layer);
    // In a painted drawing a layer met again later opens anew, so that what lies between stays between.
    if (this.drawing.format === 'svg' && this.trail[0] && this.trail[0] !== group && group.items.length > 0) {
      this.open.delete(group.key);
      group = this.layerGroup(layer);
    }
    const trail = [group];
    this.chain(v).forEach((link, i) => {
      const last = trail[trail.length - 1]!;
      const same = this.trail[i + 1];
      if (same?.key === link.key && this.trail[i] === last) trail.push(same);
      else {
        const id = this.uniqueId(link.id);
        if (link.key.startsWith('insert ')) this.inserts.set(v.top.id, id);
        const made: Group = { key: link.key, name: link.name, id, hidden: false, items: [] };
        last.items.push(made);
        trail.push(made);
      }
    });
    this.trail = trail;
    const own = this.drawing.format === 'svg' && v.depth === 0 && v.entity.key && /^[^\s"'<>&#]+$/.test(v.entity.key);
    const leaf: Leaf = {
      element,
      id: own ? this.uniqueId(v.entity.key!) : null,
      attributes: hiddenAlone ? { ...attributes, display: 'none' } : attributes,
      style,
    };
    if (text !== undefined) leaf.text = text;
    trail[trail.length - 1]!.items.push(leaf);
  }

  /** The groups as text; `defs` are the definitions that they refer to. */
  render(gradients: readonly string[] = []): string {
    const defs = [...gradients, ...this.tracks];
    const out: string[] = [];
    // A group alone at the top might be taken for a mere wrapper: it says that it is a layer.
    const alone = this.root.items.length === 1;
    for (const item of this.root.items) this.renderGroup(item as Group, {}, out, alone ? ' data-layer=""' : '');
    const rules = [...this.classes].map(([rule, name]) => `.${name}{${rule}}`).join('\n');
    const definitions = defs.length > 0 ? `<defs>\n${defs.join('\n')}\n</defs>\n` : '';
    return (rules ? `<style>\n${rules}\n</style>\n` : '') + definitions + out.join('');
  }

  private renderGroup(g: Group, inherited: Properties, out: string[], mark = ''): void {
    const shared = this.styleForm === 'sheet' ? {} : this.sharedStyle(g, inherited);
    const hidden = g.hidden ? ' display="none"' : '';
    out.push(`<g id="${escapeXml(g.id)}"${mark}${hidden}${this.styleText(shared)}>`);
    out.push(idSays(g.id, g.name) ? '\n' : `<title>${escapeXml(g.name)}</title>\n`);
    const all = { ...inherited, ...shared };
    for (const item of g.items) {
      if ('items' in item) this.renderGroup(item, all, out);
      else out.push(this.leafText(item, all));
    }
    out.push('</g>\n');
  }

  /** What the first element says; the others then say only where they differ. */
  private sharedStyle(g: Group, inherited: Properties): Properties {
    const first = g.items.find((i): i is Leaf => !('items' in i) && i.element !== 'text');
    if (!first || g.items.length < 2) return {};
    const out: Properties = {};
    for (const [name, value] of Object.entries(first.style)) {
      if (INHERITED.test(name) && inherited[name] !== value) out[name] = value;
    }
    return out;
  }

  /** What a leaf says of its style in a group that says some of it already; worked out once for all of one style. */
  private ownStyle(style: Properties, inherited: Properties): string {
    if (inherited !== this.inheritedLast) {
      this.inheritedLast = inherited;
      this.ownStyles = new Map();
    }
    const known = this.ownStyles.get(style);
    if (known !== undefined) return known;
    let own: Properties = {};
    if (this.styleForm === 'sheet') own = style;
    else {
      for (const [name, value] of Object.entries(style)) if (inherited[name] !== value) own[name] = value;
      // What a group says and this element does not has to be taken back.
      const stroked = 'stroke' in style;
      for (const name of Object.keys(inherited)) {
        if (!stroked && name.startsWith('stroke-')) continue;
        if (!(name in style) && INITIAL[name] !== undefined && inherited[name] !== INITIAL[name])
          own[name] = INITIAL[name];
      }
    }
    const text = this.styleText(own);
    this.ownStyles.set(style, text);
    return text;
  }

  private leafText(leaf: Leaf, inherited: Properties): string {
    let attributes = '';
    for (const n in leaf.attributes) attributes += ` ${n}="${escapeXml(leaf.attributes[n]!)}"`;
    const head = `<${leaf.element}${leaf.id ? ` id="${escapeXml(leaf.id)}"` : ''}${attributes}${this.ownStyle(leaf.style, inherited)}`;
    if (typeof leaf.text === 'object') return `${head}>${leaf.text.xml}</${leaf.element}>\n`;
    return leaf.text === undefined
      ? `${head}/>\n`
      : `${head}${/^\s|\s$|\s\s/.test(leaf.text) ? ' xml:space="preserve"' : ''}>${escapeXml(leaf.text)}</${leaf.element}>\n`;
  }

  styleText(style: Properties): string {
    const entries = Object.entries(style);
    if (entries.length === 0) return '';
    if (this.styleForm === 'plain') return entries.map(([n, v]) => ` ${n}="${escapeXml(v)}"`).join('');
    const rule = entries.map(([n, v]) => `${n}:${CSS_LENGTH.test(n) ? v + 'px' : v}`).join(';');
    if (this.styleForm === 'inline') return ` style="${escapeXml(rule)}"`;
    let name = this.classes.get(rule);
    if (!name) {
      name = `s${this.classes.size + 1}`;
      this.classes.set(rule, name);
    }
    return ` class="${name}"`;
  }
}

/** Lengths that are none without a unit where CSS says them (CSS Values 4 §6), unlike those that SVG added. */
const CSS_LENGTH = /^(font-size|letter-spacing|word-spacing)$/;

const INITIAL: Properties = {
  'fill-opacity': '1',
  'fill-rule': 'nonzero',
  stroke: 'none',
  'stroke-opacity': '1',
  'stroke-linecap': 'butt',
  'stroke-linejoin': 'miter',
  'stroke-miterlimit': '4',
  'stroke-dasharray': 'none',
  'stroke-dashoffset': '0',
  'text-anchor': 'start',
};
