import type { Labelled } from './labels.js';

/** Pieces of one label that hang together by their sides: a number for each pixel, and how many pixels each piece has. */
export interface Components {
  readonly of: Int32Array;
  readonly sizes: readonly number[];
}

export function componentsOf({ width, height, labels }: Pick<Labelled, 'width' | 'height' | 'labels'>): Components {
  const of = new Int32Array(width * height).fill(-1);
  const sizes: number[] = [];
  const stack: number[] = [];
  for (let start = 0; start < of.length; start++) {
    if (of[start] !== -1) continue;
    const label = labels[start]!;
    const id = sizes.length;
    let size = 0;
    of[start] = id;
    stack.push(start);
    while (stack.length > 0) {
      const i = stack.pop()!;
      size++;
      const x = i % width;
      const take = (j: number): void => {
        if (of[j] !== -1 || labels[j] !== label) return;
        of[j] = id;
        stack.push(j);
      };
      if (x > 0) take(i - 1);
      if (x < width - 1) take(i + 1);
      if (i >= width) take(i - width);
      if (i < of.length - width) take(i + width);
    }
    sizes.push(size);
  }
  return { of, sizes };
}

/**
 * Gives pieces of fewer than so many pixels to the neighbour that they border on the most, again until there are none. Says how many pixels changed.
 */
export function withoutSpeckles(picture: Labelled, fewest: number): { labelled: Labelled; speckles: number } {
  const { width, height } = picture;
  const labels = picture.labels.slice();
  let speckles = 0;
  // What was given away may hang together with another speckle: it is looked at anew, a few times.
  for (let round = 0; round < 8; round++) {
    const { of, sizes } = componentsOf({ width, height, labels });
    if (sizes.length < 2 || !sizes.some((s) => s < fewest)) break;
    const borders = new Map<number, Map<number, number>>();
    for (let i = 0; i < of.length; i++) {
      if (sizes[of[i]!]! >= fewest) continue;
      const x = i % width;
      const count = (j: number): void => {
        if (of[j] === of[i]) return;
        let own = borders.get(of[i]!);
        if (!own) borders.set(of[i]!, (own = new Map()));
        // A neighbour that is a speckle itself counts for less.
        own.set(labels[j]!, (own.get(labels[j]!) ?? 0) + (sizes[of[j]!]! >= fewest ? 1 : 0.01));
      };
      if (x > 0) count(i - 1);
      if (x < width - 1) count(i + 1);
      if (i >= width) count(i - width);
      if (i < of.length - width) count(i + width);
    }
    const becomes = new Map(
      [...borders].map(([id, sides]) => [id, [...sides].reduce((a, b) => (b[1] > a[1] ? b : a))[0]] as const),
    );
    if (becomes.size === 0) break;
    speckles += becomes.size;
    for (let i = 0; i < of.length; i++) labels[i] = becomes.get(of[i]!) ?? labels[i]!;
  }
  return { labelled: { ...picture, labels, part: picture.part }, speckles };
}
