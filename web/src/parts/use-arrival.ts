import type { RefObject } from 'react';
import { useEffect } from 'react';
import { useLocation } from 'react-router';

/**
 * Puts the focus where a page begins once somebody has gone there, so that keys go on from the new page and not from
 * nowhere. What has taken the focus by itself keeps it, and so does a page that is opened first.
 */
export function useArrival(place: RefObject<HTMLElement | null>): void {
  const { key, pathname } = useLocation();
  useEffect(() => {
    const at = place.current;
    const here = document.activeElement;
    if (key === 'default' || !at || at.contains(here)) return;
    if (here instanceof HTMLInputElement || here instanceof HTMLTextAreaElement) return;
    at.focus({ preventScroll: true });
    // Going on within a page is no arrival.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [pathname]);
}
