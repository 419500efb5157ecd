import * as THREE from 'three';
import type { Scene, SceneLayer, ScenePicture } from '@scalaria/core';
import { textureOf } from './picture-textures';
import type { Ink } from './shaders';
import { HAIR_VERTEX, INKS, PICTURE_FRAGMENT, PICTURE_VERTEX, WIDE_FRAGMENT, WIDE_VERTEX, fragment } from './shaders';
import type { Size, View } from './view';

/** Which of two things that are compared it is, or what both have in common. */
export type Tint = 'first' | 'second' | 'common';

const NO_TINT: [number, number, number] = [0, 0, 0];

/** One drawing to show, perhaps in a colour of its own, perhaps only left or right of the wipe. */
export interface Picture {
  scene: Scene;
  tint?: Tint;
  side?: 'left' | 'right';
  /** Drawn as scale bars of ink and ground, whatever its colours: what is selected. */
  bar?: boolean;
}

export interface Ground {
  name: 'paper' | 'night';
  ink: [number, number, number];
  paper: [number, number, number];
  /** The colours of what is compared, told apart on this ground. */
  tints: Record<Tint, [number, number, number]>;
}

/** How a frame is to be drawn. */
export interface Showing {
  ground: Ground;
  /** Layers out of sight. */
  hidden: ReadonlySet<string>;
  /** Where left and right meet, 0 to 1 of the width. */
  wipe: number;
  ink: Ink;
  /** Lines as wide as they are; otherwise hairlines. */
  weights: boolean;
}

interface Part {
  object: THREE.LineSegments | THREE.Mesh;
  material: THREE.RawShaderMaterial;
  layer: string;
  /** Hairlines and their counterpart with widths: one of the two is shown. */
  form: 'area' | 'hair' | 'wide';
  /** Its chords or triangles, and how many of its layer come before them. */
  count: number;
  first?: number;
  /** The greatest width in the drawing's unit, and in millimetres on paper. */
  most: { drawing: number; paper: number } | null;
  /** The picture that it shows, and whether its entity is out of sight. */
  shows?: ScenePicture;
  gone?: boolean;
}

interface Loaded {
  picture: Picture;
  root: THREE.Scene;
  parts: Part[];
}

/** Milliseconds within which a slice is small or large, and how small and large slices get. */
const FAST_SLICE = 18;
const SLOW_SLICE = 40;
const clamp = (slice: number): number => Math.min(1 << 24, Math.max(1024, Math.round(slice)));
/** So many chords with widths are drawn at once: instances cannot begin in the middle, so more are parts of their own. */
const WIDE_PART = 20_000;
/** Below so many pixels a line with a width looks like a hairline. */
const THIN = 1.4;
/** Nothing is left out by where it lies, so nothing has to be worked out from its vertices. */
const NOWHERE = new THREE.Sphere();
const CORNERS = Float32Array.of(0, 0, 1, 0, 1, 1, 0, 0, 1, 1, 0, 1);

/**
 * Draws scenes with WebGL. Each vertex is relative to its scene's origin; the shift to the view is worked out here in
 * double precision, so that drawings far from the origin stand still.
 */
export class Renderer {
  private readonly gl: THREE.WebGLRenderer;
  private readonly camera = new THREE.Camera();
  private loaded: Loaded[] = [];
  private size: Size = { width: 1, height: 1 };
  /** How many chords and triangles are drawn at once. */
  private slice = 8192;
  private fence: WebGLSync | null = null;

  /** `onPicture`: a picture that was not ready when it was drawn is so now. */
  constructor(
    canvas: HTMLCanvasElement,
    private readonly onPicture: () => void,
  ) {
    this.gl = new THREE.WebGLRenderer({ canvas, antialias: true, alpha: false, preserveDrawingBuffer: true });
    this.gl.autoClear = false;
    this.gl.outputColorSpace = THREE.LinearSRGBColorSpace;
  }

  setSize(size: Size, ratio: number): void {
    if (this.size.width === size.width && this.size.height === size.height && this.gl.getPixelRatio() === ratio) return;
    this.size = size;
    this.gl.setPixelRatio(ratio);
    this.gl.setSize(size.width, size.height, false);
  }

  setPictures(pictures: readonly Picture[]): void {
    const known = new Map(this.loaded.map((l) => [l.picture.scene, l]));
    this.loaded = pictures.map((picture) => {
      const old = known.get(picture.scene);
      if (!old) return this.load(picture);
      known.delete(picture.scene);
      old.picture = picture;
      return old;
    });
    for (const gone of known.values()) this.drop(gone);
  }

  /** Takes entities out of sight, or brings them back: only colours change. */
  hideIds(ids: ReadonlySet<number>): void {
    for (const { picture, parts } of this.loaded) {
      for (const p of parts) {
        if (p.shows) {
          p.gone = ids.has(p.shows.owner);
          continue;
        }
        const layer = picture.scene.layers.find((l) => l.name === p.layer);
        if (layer) recolour(p, layer, ids);
      }
    }
  }

  private load(picture: Picture): Loaded {
    const root = new THREE.Scene();
    const parts: Part[] = [];
    for (const layer of picture.scene.layers) {
      if (layer.triangles.length > 0) parts.push(part(layer.name, layer.triangles, layer.triangleColours, false));
      if (layer.lines.length > 0) parts.push(part(layer.name, layer.lines, layer.lineColours, true));
      for (let from = 0; from < layer.lineWidths.length; from += WIDE_PART)
        parts.push(widePart(layer, from, Math.min(layer.lineWidths.length, from + WIDE_PART)));
    }
    for (const p of picture.scene.pictures) parts.push(picturePart(p));
    for (const p of parts) root.add(p.object);
    return { picture, root, parts };
  }

  private drop(l: Loaded): void {
    for (const p of l.parts) {
      p.object.geometry.dispose();
      p.material.dispose();
    }
  }

  /**
   * Begins a picture. What is returned draws the next slice of it and says whether more is to come: a drawing of a
   * million chords is drawn over several frames where one would hold up the page. It says how much is drawn, from 0 to 1.
   */
  begin(view: View, showing: Showing): () => number {
    const { width, height } = this.size;
    const [pr, pg, pb] = showing.ground.paper;
    this.gl.setScissorTest(false);
    this.gl.setClearColor(new THREE.Color().setRGB(pr, pg, pb, THREE.LinearSRGBColorSpace), 1);
    this.gl.clear(true, true, true);
    const work: { loaded: Loaded; part: Part; first: boolean }[] = [];
    for (const loaded of this.loaded) {
      const shown = this.ready(loaded, view, showing);
      shown.forEach((part, i) => work.push({ loaded, part, first: i === 0 }));
    }
    const all = work.reduce((n, { part }) => n + part.count, 0);
    let drawn = 0;
    // Nothing is whole before the card says so.
    const done = (): number => Math.min(0.999, drawn / Math.max(1, all));
    let at = 0;
    let from = 0;
    let last = 0;
    const at0 = Math.round(width * showing.wipe);
    return () => {
      // Until the card is done with what it was given nothing is added, so that the page never waits for it.
      if (!this.settled()) return done();
      const took = performance.now() - last;
      if (last > 0 && took > SLOW_SLICE) this.slice = clamp(this.slice / 2);
      else if (last > 0 && took < FAST_SLICE) this.slice = clamp(this.slice * 2);
      if (at >= work.length) return 1;
      last = performance.now();
      let room = this.slice;
      while (at < work.length && room > 0) {
        const { loaded, part, first } = work[at]!;
        const { side } = loaded.picture;
        if (first && from === 0) this.gl.clearDepth();
        this.gl.setScissorTest(side !== undefined);
        if (side === 'left') this.gl.setScissor(0, 0, at0, height);
        if (side === 'right') this.gl.setScissor(at0, 0, width - at0, height);
        const many = part.form === 'wide' ? part.count : Math.min(part.count - from, room);
        drawRange(part, from, many);
        for (const p of loaded.parts) p.object.visible = p === part;
        this.gl.render(loaded.root, this.camera);
        room -= many;
        from += many;
        drawn += many;
        if (from < part.count) break;
        at++;
        from = 0;
      }
      const gl = this.gl.getContext() as WebGL2RenderingContext;
      this.fence = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0);
      gl.flush();
      return done();
    };
  }

  /** Whether the card has drawn all that it was given. */
  private settled(): boolean {
    if (!this.fence) return true;
    const gl = this.gl.getContext() as WebGL2RenderingContext;
    const state = gl.clientWaitSync(this.fence, 0, 0);
    if (state === gl.TIMEOUT_EXPIRED) return false;
    gl.deleteSync(this.fence);
    this.fence = null;
    return true;
  }

  /** Sets what the parts of a picture are drawn with; returns those that are in sight, in order. */
  private ready({ picture, parts }: Loaded, view: View, showing: Showing): Part[] {
    const { width, height } = this.size;
    const { ground, hidden } = showing;
    const [ox, oy] = picture.scene.origin;
    const wide = new Set<string>();
    for (const { most, layer } of parts) {
      const pixels = most ? Math.max(most.drawing * view.scale, (most.paper * 96) / 25.4) : 0;
      if ((showing.weights || picture.bar) && pixels > THIN) wide.add(layer);
    }
    for (const p of parts) {
      const u = p.material.uniforms;
      (u['scale']!.value as THREE.Vector2).set((2 * view.scale) / width, (2 * view.scale) / height);
      (u['shift']!.value as THREE.Vector2).set(view.x - ox, view.y - oy);
      (u['size']!.value as THREE.Vector2).set(width, height);
      u['zoom']!.value = view.scale;
      u['inks']!.value = INKS.indexOf(showing.ink);
      (u['ink']!.value as THREE.Vector3).set(...ground.ink);
      (u['paper']!.value as THREE.Vector3).set(...ground.paper);
      (u['tint']!.value as THREE.Vector4).set(
        ...(picture.tint ? ground.tints[picture.tint] : NO_TINT),
        picture.tint ? 0.85 : 0,
      );
      u['bar']!.value = picture.bar === true;
    }
    const seen = parts.filter((p) => !hidden.has(p.layer) && !p.gone && (!p.shows || this.textured(p, p.shows)));
    return seen.filter((p) => p.form === 'area' || (p.form === 'wide') === wide.has(p.layer));
  }

  /** Whether a picture is ready to be drawn. */
  private textured(p: Part, shows: ScenePicture): boolean {
    const texture = textureOf(shows.data, this.onPicture);
    p.material.uniforms['picture']!.value = texture;
    return texture !== null;
  }

  dispose(): void {
    this.loaded.forEach((l) => this.drop(l));
    this.gl.dispose();
  }
}

function material(vertexShader: string, fragmentShader: string): THREE.RawShaderMaterial {
  return new THREE.RawShaderMaterial({
    glslVersion: THREE.GLSL3,
    vertexShader,
    fragmentShader,
    uniforms: {
      scale: { value: new THREE.Vector2() },
      shift: { value: new THREE.Vector2() },
      size: { value: new THREE.Vector2() },
      zoom: { value: 1 },
      inks: { value: 0 },
      ink: { value: new THREE.Vector3() },
      paper: { value: new THREE.Vector3() },
      tint: { value: new THREE.Vector4() },
      bar: { value: false },
      picture: { value: null },
      opacity: { value: 1 },
    },
    transparent: true,
    depthTest: true,
    depthFunc: THREE.LessEqualDepth,
    side: THREE.DoubleSide,
  });
}

function part(layer: string, positions: Float32Array, colours: Uint8Array, lines: boolean): Part {
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3));
  geometry.setAttribute('colour', new THREE.BufferAttribute(colours, 4, true));
  geometry.boundingSphere = NOWHERE;
  const look = material(HAIR_VERTEX, fragment(lines));
  const object = lines ? new THREE.LineSegments(geometry, look) : new THREE.Mesh(geometry, look);
  object.frustumCulled = false;
  return {
    object,
    material: look,
    layer,
    form: lines ? 'hair' : 'area',
    count: positions.length / (lines ? 6 : 9),
    most: null,
  };
}

function picturePart(shows: ScenePicture): Part {
  const geometry = new THREE.BufferGeometry();
  geometry.setAttribute('position', new THREE.BufferAttribute(shows.corners, 3));
  geometry.setAttribute('spot', new THREE.BufferAttribute(shows.inPicture, 2));
  geometry.boundingSphere = NOWHERE;
  const look = material(PICTURE_VERTEX, PICTURE_FRAGMENT);
  look.uniforms['opacity']!.value = shows.opacity;
  const object = new THREE.Mesh(geometry, look);
  object.frustumCulled = false;
  const { layer, corners } = shows;
  return { object, material: look, layer, form: 'area', count: corners.length / 9, most: null, shows };
}

/** Draws only some of a part's chords or triangles. */
function drawRange(p: Part, from: number, count: number): void {
  if (p.form === 'wide') {
    // Instances cannot begin in the middle: a layer of wide lines is drawn at once.
    return;
  }
  const each = p.form === 'hair' ? 2 : 3;
  p.object.geometry.setDrawRange(from * each, count * each);
}

/** Chords of a layer as four-cornered pieces, one instance each. */
function widePart(layer: SceneLayer, first: number, end: number): Part {
  const geometry = new THREE.InstancedBufferGeometry();
  const ends = new THREE.InstancedInterleavedBuffer(layer.lines.subarray(6 * first, 6 * end), 6);
  // The count of vertices is taken from this attribute.
  geometry.setAttribute('position', new THREE.BufferAttribute(CORNERS, 2));
  geometry.setAttribute('from', new THREE.InterleavedBufferAttribute(ends, 3, 0));
  geometry.setAttribute('to', new THREE.InterleavedBufferAttribute(ends, 3, 3));
  const colours = new THREE.InstancedInterleavedBuffer(layer.lineColours.subarray(8 * first, 8 * end), 8);
  geometry.setAttribute('colour', new THREE.InterleavedBufferAttribute(colours, 4, 0, true));
  const widths = layer.lineWidths.subarray(first, end);
  geometry.setAttribute('width', new THREE.InstancedBufferAttribute(widths, 1));
  geometry.setAttribute('ends', new THREE.InstancedBufferAttribute(layer.lineEnds.subarray(first, end), 1));
  if (layer.lineRuns)
    geometry.setAttribute('run', new THREE.InstancedBufferAttribute(layer.lineRuns.subarray(first, end), 1));
  geometry.boundingSphere = NOWHERE;
  geometry.instanceCount = end - first;
  const look = material(WIDE_VERTEX, WIDE_FRAGMENT);
  const object = new THREE.Mesh(geometry, look);
  object.frustumCulled = false;
  let [drawing, paper] = [0, 0];
  for (const w of widths) {
    if (w > drawing) drawing = w;
    if (-w > paper) paper = -w;
  }
  return {
    object,
    material: look,
    layer: layer.name,
    form: 'wide',
    count: end - first,
    first,
    most: { drawing, paper },
  };
}

/**
 * Gives hidden entities an alpha of nothing, all others the colour of their scene. The colours are those of the scene itself
 * until something is hidden: only then there are two of them.
 */
function recolour(p: Part, layer: SceneLayer, ids: ReadonlySet<number>): void {
  const area = p.form === 'area';
  const [from, owners] = area ? [layer.triangleColours, layer.triangleOwners] : [layer.lineColours, layer.lineOwners];
  const attribute = p.object.geometry.getAttribute('colour') as
    THREE.BufferAttribute | THREE.InterleavedBufferAttribute;
  const held: { array: THREE.TypedArray; needsUpdate: boolean } = 'data' in attribute ? attribute.data : attribute;
  const shared = held.array.buffer === from.buffer;
  if (shared && ids.size === 0) return;
  const each = area ? 12 : 8;
  const first = p.first ?? 0;
  const to = from.slice(each * first, each * (first + p.count));
  for (let i = 0; i < p.count; i++) if (ids.has(owners[first + i]!)) to.fill(0, each * i, each * (i + 1));
  held.array = to;
  held.needsUpdate = true;
}
