import { cleanup } from '@testing-library/react';
import { afterEach, beforeEach, vi } from 'vitest';

/** Gives every element a size, which no page without a screen has: of long lists only what is in sight is made. */
export function sized(width: number, height: number): void {
  beforeEach(() => {
    for (const side of ['clientHeight', 'offsetHeight'] as const)
      vi.spyOn(HTMLElement.prototype, side, 'get').mockReturnValue(height);
    for (const side of ['clientWidth', 'offsetWidth'] as const)
      vi.spyOn(HTMLElement.prototype, side, 'get').mockReturnValue(width);
    vi.stubGlobal(
      'ResizeObserver',
      class {
        observe = (): void => {};
        unobserve = (): void => {};
        disconnect = (): void => {};
      },
    );
  });
  afterEach(() => {
    cleanup();
    vi.restoreAllMocks();
  });
}
