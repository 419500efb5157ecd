import { useContext } from 'react';
import { onNight } from '@scalaria/core';
import { GroundName } from '../../parts/ground';
import type { BookSection } from '../../parts/fold-list';
import { plainNumber } from '../../parts/numbers';
import type { Asking } from './use-asked';
import { useAsked } from './use-asked';

const ask = (w: Asking) => w.contents();

/** Model space and the sheets, with pictures; one of them is in sight. Deliveries are of model space. */
export function useContentSection(
  shown: string | undefined,
  onShow: (sheet: string | undefined) => void,
): BookSection | null {
  const pictures = useAsked(ask) ?? [];
  const night = useContext(GroundName) === 'night';
  if (pictures.length < 2) return null;
  const sheets = pictures.length - 1;
  return {
    id: 'spaces',
    title: 'Spaces',
    said: `model space is taken in, ${sheets === 1 ? '1 sheet is' : `${sheets} sheets are`} not`,
    body: () => (
      <ul className="grid grid-cols-2 gap-2" aria-label="Spaces">
        {pictures.map((p) => (
          <li key={p.sheet ?? ''}>
            <button
              type="button"
              aria-pressed={shown === p.sheet}
              onClick={() => onShow(p.sheet)}
              className={`block w-full border text-left hover:border-ink ${shown === p.sheet ? 'border-ink' : 'border-rule'}`}
            >
              <img
                alt=""
                src={`data:image/svg+xml,${encodeURIComponent(night ? onNight(p.svg) : p.svg)}`}
                className="h-24 w-full border-b border-rule bg-sheet object-contain"
              />
              <span
                className={`flex justify-between gap-2 px-1.5 py-0.5 text-sm ${shown === p.sheet ? 'bg-wash' : ''}`}
              >
                <span className="truncate">{p.sheet ?? 'Model space'}</span>
                <span className="num text-quiet">{plainNumber(p.entities)}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
    ),
  };
}
