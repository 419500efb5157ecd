// @vitest-environment happy-dom
import { cleanup, render, screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Scene } from '@scalaria/core';
import {
  BEFORE_AFTER,
  CompareBar,
  TRACED,
  besideBox,
  besideBy,
  comparedParts,
} from '../src/routes/drawing/compare-bar';
import { words } from '../src/routes/drawing/prepare/use-trace-difference';

afterEach(cleanup);

const box = (minX: number, minY: number, maxX: number, maxY: number) => ({ minX, minY, maxX, maxY });
const scene = (origin: [number, number], bounds = box(0, 0, 10, 10)): Scene =>
  ({ origin, bounds, visibleBounds: bounds, layers: [{ name: 'A' }], pictures: [] }) as unknown as Scene;
const parts = { same: scene([1, 2]), old: scene([3, 4]), now: scene([5, 6]) };

describe('a drawing before a step and after it', () => {
  it('stand side by side without touching, a wide one above its other side, and both are in sight together', () => {
    for (const b of [box(0, 0, 10, 10), box(-5, 3, 5, 40), box(0, 0, 100, 10), box(7, 7, 7, 7)]) {
      const [x, y] = besideBy(b);
      const apart = x >= b.maxX - b.minX && y <= 0 && (y === 0 || -y >= b.maxY - b.minY);
      expect(apart || (x === 0 && -y >= b.maxY - b.minY)).toBe(true);
      const both = besideBox(b);
      for (const [px, py] of [
        [b.minX, b.minY],
        [b.maxX, b.maxY],
        [b.minX + x, b.minY + y],
        [b.maxX + x, b.maxY + y],
      ] as const)
        expect(px >= both.minX && px <= both.maxX && py >= both.minY && py <= both.maxY).toBe(true);
    }
    expect(besideBy(null)).toEqual([0, 0]);
  });

  it('is shown as it was where it lies and as it would be beside it, nothing else moved', () => {
    const [x, y] = besideBy(parts.same.bounds);
    const shown = comparedParts(parts, 'beside', true).map((p) => p.scene.origin);
    expect(shown).toEqual([
      [1, 2],
      [3, 4],
      [1 + x, 2 + y],
      [5 + x, 6 + y],
    ]);
  });

  it('is nothing but its differences where those are looked at, and nothing at all until they are known', () => {
    const found = scene([9, 9]);
    const [ground, over] = comparedParts(parts, 'differing', true, found);
    expect(ground!.scene.layers).toEqual([]);
    expect(over!.scene).toBe(found);
    expect(comparedParts(parts, 'differing', true)).toHaveLength(1);
  });

  it('offers differences of pictures where pictures were traced, and says them', () => {
    expect(BEFORE_AFTER.some(([c]) => c === 'differing')).toBe(false);
    render(
      <CompareBar
        compare="differing"
        onCompare={vi.fn()}
        wipe={0.5}
        onWipe={vi.fn()}
        ways={TRACED}
        said="12 of 100 pixels are of another area: 12 %"
        differs
        sides={['only in the picture', 'only in the trace']}
      />,
    );
    expect(screen.getByRole('radio', { name: 'Differences' })).toHaveProperty('checked', true);
    expect(screen.getByRole('status').textContent).toContain('12 of 100');
    expect(screen.getByText('only in the trace')).toBeDefined();
  });
});

describe('what differs from a picture, in words', () => {
  it('counts pixels and says their share, or why nobody can tell', () => {
    expect(words({ pixels: 7040, other: 2, why: [] }).replace(/\s/g, ' ')).toBe(
      '2 of 7040 pixels are of another area: 0.028 %',
    );
    expect(words({ pixels: 100, other: 0, why: [] })).toBe('All 100 pixels are of the same area');
    expect(words({ pixels: 0, other: 0, why: ['it is far', 'it is far'] })).toBe('Not compared: it is far');
    expect(words({ pixels: 10, other: 1, why: ['it is far'] })).toMatch(/10 %\. Not compared: it is far$/);
    expect(words({ pixels: 0, other: 0, why: [] })).toBe('No picture was traced');
  });
});
