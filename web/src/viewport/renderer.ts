import * as THREE from 'three';
import type { Scene } from '@scalaria/core';
import type { Size, View } from './view';

/** One drawing to show, perhaps in a colour of its own, perhaps only left or right of the wipe. */
export interface Picture {
  scene: Scene;
  tint?: [number, number, number];
  side?: 'left' | 'right';
}

export interface Ground {
  ink: [number, number, number];
  paper: [number, number, number];
}

const VERTEX = `
in vec3 position;
in vec4 colour;
uniform vec2 scale;
uniform vec2 shift;
out vec4 tone;
void main() {
  tone = colour;
  gl_Position = vec4((position.xy - shift) * scale, -position.z * 0.9999, 1.0);
}`;

// A colour that would vanish on the ground is moved towards the ink; alpha 254/255 marks the foreground colour, 252/255 the ground.
const FRAGMENT = `
precision highp float;
in vec4 tone;
uniform vec3 ink;
uniform vec3 paper;
uniform vec4 tint;
out vec4 result;
float light(vec3 c) { return dot(c, vec3(0.2126, 0.7152, 0.0722)); }
void main() {
  vec3 c = tone.rgb;
  float a = tone.a;
  if (a > 0.994 && a < 0.998) { c = ink; a = 1.0; }
  else if (a > 0.986 && a < 0.990) { c = paper; a = 1.0; }
  else if (lines) {
    float near = 1.0 - smoothstep(0.12, 0.42, abs(light(c) - light(paper)));
    c = mix(c, mix(c, ink, 0.5), near);
  }
  if (tint.a > 0.0) c = mix(c, tint.rgb, tint.a);
  result = vec4(c, a);
}`;

interface Part {
  object: THREE.LineSegments | THREE.Mesh;
  material: THREE.RawShaderMaterial;
  layer: string;
}

interface Loaded {
  picture: Picture;
  root: THREE.Scene;
  parts: Part[];
}

/**
 * Draws scenes with WebGL. Each vertex is relative to its scene's origin; the shift to the view is worked out here in
 * double precision, so that drawings far from the origin stand still.
 */
export class Renderer {
  private readonly gl: THREE.WebGLRenderer;
  private readonly camera = new THREE.Camera();
  private loaded: Loaded[] = [];
  private size: Size = { width: 1, height: 1 };

  constructor(canvas: HTMLCanvasElement) {
    this.gl = new THREE.WebGLRenderer({ canvas, antialias: true, alpha: false, preserveDrawingBuffer: false });
    this.gl.autoClear = false;
    this.gl.outputColorSpace = THREE.LinearSRGBColorSpace;
  }

  setSize(size: Size, ratio: number): void {
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

  private load(picture: Picture): Loaded {
    const root = new THREE.Scene();
    const parts: Part[] = [];
    for (const layer of picture.scene.layers) {
      if (layer.triangles.length > 0) parts.push(this.part(layer.name, layer.triangles, layer.triangleColours, false));
      if (layer.lines.length > 0) parts.push(this.part(layer.name, layer.lines, layer.lineColours, true));
    }
    for (const p of parts) root.add(p.object);
    return { picture, root, parts };
  }

  private part(layer: string, positions: Float32Array, colours: Uint8Array, lines: boolean): Part {
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute('position', new THREE.BufferAttribute(positions, 3));
    geometry.setAttribute('colour', new THREE.BufferAttribute(colours, 4, true));
    const material = new THREE.RawShaderMaterial({
      glslVersion: THREE.GLSL3,
      vertexShader: VERTEX,
      fragmentShader: FRAGMENT.replace('uniform vec3 ink', `const bool lines = ${lines};\nuniform vec3 ink`),
      uniforms: {
        scale: { value: new THREE.Vector2() },
        shift: { value: new THREE.Vector2() },
        ink: { value: new THREE.Vector3() },
        paper: { value: new THREE.Vector3() },
        tint: { value: new THREE.Vector4() },
      },
      transparent: true,
      depthTest: true,
      depthFunc: THREE.LessEqualDepth,
      side: THREE.DoubleSide,
    });
    const object = lines ? new THREE.LineSegments(geometry, material) : new THREE.Mesh(geometry, material);
    object.frustumCulled = false;
    return { object, material, layer };
  }

  private drop(l: Loaded): void {
    for (const p of l.parts) {
      p.object.geometry.dispose();
      p.material.dispose();
    }
  }

  /** `wipe` is where left and right meet, 0 to 1 of the width. */
  render(view: View, ground: Ground, hidden: ReadonlySet<string>, wipe: number): void {
    const { width, height } = this.size;
    const [pr, pg, pb] = ground.paper;
    this.gl.setScissorTest(false);
    this.gl.setClearColor(new THREE.Color().setRGB(pr, pg, pb, THREE.LinearSRGBColorSpace), 1);
    this.gl.clear(true, true, true);
    for (const { picture, root, parts } of this.loaded) {
      const [ox, oy] = picture.scene.origin;
      for (const p of parts) {
        p.object.visible = !hidden.has(p.layer);
        const u = p.material.uniforms;
        (u['scale']!.value as THREE.Vector2).set((2 * view.scale) / width, (2 * view.scale) / height);
        (u['shift']!.value as THREE.Vector2).set(view.x - ox, view.y - oy);
        (u['ink']!.value as THREE.Vector3).set(...ground.ink);
        (u['paper']!.value as THREE.Vector3).set(pr, pg, pb);
        (u['tint']!.value as THREE.Vector4).set(...(picture.tint ?? [0, 0, 0]), picture.tint ? 0.85 : 0);
      }
      this.gl.clearDepth();
      const at = Math.round(width * wipe);
      this.gl.setScissorTest(picture.side !== undefined);
      if (picture.side === 'left') this.gl.setScissor(0, 0, at, height);
      if (picture.side === 'right') this.gl.setScissor(at, 0, width - at, height);
      this.gl.render(root, this.camera);
    }
  }

  dispose(): void {
    this.loaded.forEach((l) => this.drop(l));
    this.gl.dispose();
  }
}
