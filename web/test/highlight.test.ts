import { describe, expect, it } from 'vitest';
import type { Scene, SceneLayer } from '@scalaria/core';
import { highlighted } from '../src/viewport/highlight';

const layer = (
  name: string,
  chords: number[][],
  owners: number[],
  triangles: number[][] = [],
  areas: number[] = [],
): SceneLayer => ({
  name,
  lines: Float32Array.from(chords.flat()),
  lineColours: new Uint8Array(8 * chords.length),
  lineOwners: Uint32Array.from(owners),
  lineWidths: new Float32Array(0),
  lineEnds: new Uint8Array(0),
  triangles: Float32Array.from(triangles.flat()),
  triangleColours: new Uint8Array(12 * triangles.length),
  triangleOwners: Uint32Array.from(areas),
});
const scene = (layers: SceneLayer[], pictures: Scene['pictures'] = []): Scene => ({
  origin: [5, 6],
  bounds: null,
  visibleBounds: null,
  layers,
  pictures,
  items: { entities: [], boxes: new Float64Array(0) },
  chords: 0,
  triangles: 0,
});

describe('what is selected, as a scene of its own', () => {
  it('has the lines and areas of what is selected and of nothing else, on their layers', () => {
    const made = highlighted(
      scene([
        layer(
          'WALLS',
          [
            [0, 0, 0, 1, 0, 0],
            [1, 0, 0, 1, 1, 0],
          ],
          [7, 8],
          [[0, 0, 0, 1, 0, 0, 0, 1, 0]],
          [8],
        ),
        layer('DOORS', [[9, 9, 0, 8, 8, 0]], [7]),
      ]),
      new Set([7]),
    );
    expect(made.origin).toEqual([5, 6]);
    expect(made.layers.map((l) => [l.name, [...l.lines], l.triangles.length])).toEqual([
      ['WALLS', [0, 0, 0, 1, 0, 0], 0],
      ['DOORS', [9, 9, 0, 8, 8, 0], 0],
    ]);
    // Bold, with round ends.
    expect([...made.layers[0]!.lineWidths]).toEqual([-1.25]);
    expect([...made.layers[0]!.lineEnds]).toEqual([3]);
  });
  it('outlines a picture of two triangles by its four sides, not by its diagonal', () => {
    const corners = Float32Array.from([0, 0, 0, 4, 0, 0, 4, 3, 0, 0, 0, 0, 4, 3, 0, 0, 3, 0]);
    const picture = { layer: 'SKETCH', owner: 3, data: 'data:', opacity: 1, corners, inPicture: new Float32Array(12) };
    const made = highlighted(scene([layer('SKETCH', [], []), layer('OTHER', [], [])], [picture]), new Set([3]));
    const { lines } = made.layers[0]!;
    expect(lines.length).toBe(4 * 6);
    let length = 0;
    for (let i = 0; i < lines.length; i += 6)
      length += Math.hypot(lines[i + 3]! - lines[i]!, lines[i + 4]! - lines[i + 1]!);
    expect(length).toBe(14);
    expect(made.layers[1]!.lines.length).toBe(0);
    expect(highlighted(scene([layer('SKETCH', [], [])], [picture]), new Set([4])).layers[0]!.lines.length).toBe(0);
  });
});
