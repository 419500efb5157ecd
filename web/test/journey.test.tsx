// @vitest-environment happy-dom
import { cleanup, render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { afterEach, describe, expect, test } from 'vitest';
import type { DeliveryRow, DrawingDetail } from '../src/api/types';
import { Stations } from '../src/routes/drawing/stations';
import type { Verdict } from '@scalaria/core';
import { NO_DECISIONS, claimsOf } from '@scalaria/core';
import { deliveryRow, demo } from './support/drawing';

afterEach(cleanup);

const row = (more: Partial<DeliveryRow>): DeliveryRow => deliveryRow({ revision: 2, ...more });
const verdict = (more: Partial<Verdict>): Verdict => ({ holds: true, lost: 0, whole: true, ...more });
const said = (rows: DeliveryRow[], revision = 2): string => {
  const claims = claimsOf(demo('kestrel-row-front-elevation.dxf'));
  const drawing = { claims, intake: NO_DECISIONS, steps: [], revision } as unknown as DrawingDetail;
  render(
    <MemoryRouter>
      <Stations drawing={drawing} deliveries={rows} />
    </MemoryRouter>,
  );
  const prove = screen.getByRole('link', { name: /Prove/ }).textContent;
  cleanup();
  return prove.replace(/^5Prove/, '');
};

describe('what the journey says of station five', () => {
  test('is what the newest file is worth', () => {
    expect(said([])).toBe('nothing yet');
    expect(said([row({})])).toBe('holds');
    expect(said([row({ verdict: verdict({ holds: false }) }), row({})])).toBe('does not hold');
  });
  test('names a loss', () => {
    expect(said([row({ verdict: verdict({ lost: 2 }) })])).toBe('holds, but …');
    expect(said([row({ verdict: verdict({ whole: false }) })])).toBe('holds, but …');
  });
  test('a file of an older revision proves nothing about the drawing as it is now', () => {
    expect(said([row({ revision: 1 })])).toBe('of revision 1');
  });
  test('files that are not written yet do not count', () => {
    expect(said([row({ state: 'working', verdict: null }), row({})])).toBe('holds');
  });
});
