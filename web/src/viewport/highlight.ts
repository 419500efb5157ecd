import type { Scene } from '@scalaria/core';

/** How wide selected lines are shown, in millimetres on paper: enough for a scale bar with its edge. */
const BOLD = -1.25;

/** How far along its curve each chord begins: a chord that begins where the one before it ended goes on. */
function runsOf(lines: readonly number[]): Float32Array {
  const out = new Float32Array(lines.length / 6);
  for (let i = 1; i < out.length; i++) {
    const [p, q] = [6 * (i - 1), 6 * i];
    if (lines[p + 3] !== lines[q] || lines[p + 4] !== lines[q + 1]) continue;
    out[i] = out[i - 1]! + Math.hypot(lines[p + 3]! - lines[p]!, lines[p + 4]! - lines[p + 1]!);
  }
  return out;
}

/** The edges of a picture's triangles that no other of them shares: its outline. */
function outlineOf(corners: Float32Array): number[] {
  const edges = new Map<string, number[] | null>();
  for (let t = 0; t + 8 < corners.length; t += 9)
    for (let k = 0; k < 3; k++) {
      const [a, b] = [t + 3 * k, t + 3 * ((k + 1) % 3)];
      const ends = [corners.subarray(a, a + 3), corners.subarray(b, b + 3)].map((p) => p.join());
      const key = ends.sort().join(' ');
      edges.set(key, edges.has(key) ? null : [...corners.subarray(a, a + 3), ...corners.subarray(b, b + 3)]);
    }
  return [...edges.values()].flatMap((e) => e ?? []);
}

/** The lines of some entities of a scene as a scene of their own; of areas and texts, the edges of their triangles. */
export function highlighted(scene: Scene, ids: ReadonlySet<number>): Scene {
  return {
    ...scene,
    pictures: [],
    layers: scene.layers.map((l) => {
      const lines: number[] = [];
      const triangles: number[] = [];
      for (let i = 0; i < l.lineOwners.length; i++)
        if (ids.has(l.lineOwners[i]!)) for (let k = 6 * i; k < 6 * i + 6; k++) lines.push(l.lines[k]!);
      for (let i = 0; i < l.triangleOwners.length; i++)
        if (ids.has(l.triangleOwners[i]!)) for (let k = 9 * i; k < 9 * i + 9; k++) triangles.push(l.triangles[k]!);
      for (const p of scene.pictures)
        if (p.layer === l.name && ids.has(p.owner)) for (const v of outlineOf(p.corners)) lines.push(v);
      const chords = lines.length / 6;
      return {
        name: l.name,
        lines: Float32Array.from(lines),
        lineColours: new Uint8Array(8 * chords).fill(255),
        lineOwners: new Uint32Array(chords),
        lineWidths: new Float32Array(chords).fill(BOLD),
        lineEnds: new Uint8Array(chords).fill(3),
        lineRuns: runsOf(lines),
        triangles: Float32Array.from(triangles),
        triangleColours: new Uint8Array((4 * triangles.length) / 3).fill(150),
        triangleOwners: new Uint32Array(triangles.length / 9),
      };
    }),
  };
}
