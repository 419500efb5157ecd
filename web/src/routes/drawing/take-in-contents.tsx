import { Section } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';
import type { Asking } from './use-asked';
import { useAsked } from './use-asked';

const ask = (w: Asking) => w.contents();

/** Model space and the sheets, with pictures; one of them is in sight. Deliveries are of model space. */
export function ContentSection({
  shown,
  onShow,
}: {
  shown: string | undefined;
  onShow: (sheet: string | undefined) => void;
}) {
  const pictures = useAsked(ask) ?? [];
  if (pictures.length < 2) return null;
  return (
    <Section title="Spaces" aside={<span className="text-sm text-quiet">model space comes along</span>}>
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
                src={`data:image/svg+xml,${encodeURIComponent(p.svg)}`}
                className="h-24 w-full border-b border-rule bg-[#fbf8f1] object-contain"
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
    </Section>
  );
}
