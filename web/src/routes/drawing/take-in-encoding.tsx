import type { IntakeDecisions } from '@scalaria/core';
import { useState } from 'react';
import { encodingTitle } from '@scalaria/core';
import { Button } from '../../parts/button';
import { Choice } from '../../parts/field';
import type { BookSection } from '../../parts/fold-list';
import { useDrawing } from './drawing-context';
import type { Asking } from './use-asked';
import { useAsked } from './use-asked';

const ask = (w: Asking) => w.encodings();

/** So many encodings are offered before the rest is asked for. */
const FIRST = 4;

/** How texts beyond ASCII are read, with those texts as each encoding has them. Only where a file has any. */
export function useEncodingSection(): BookSection | null {
  const { drawing, decide } = useDrawing();
  const told = useAsked(ask);
  const [all, setAll] = useState(false);
  const chosen = drawing.intake.encoding ?? null;
  if (!told || told.samples.length === 0) return null;
  const { samples, stated } = told;
  // From 2007 on texts are Unicode; there is nothing to decide unless they are not.
  const unicode = Number(drawing.claims.version) >= 2007;
  if (unicode && chosen === null && samples.every((s) => s.encoding !== 'utf-8' || s.broken === 0)) return null;
  // The one that was chosen is always in sight.
  const shown = samples.filter((s, i) => all || i < FIRST || s.encoding === chosen);
  // In doubt: nothing is stated, or Unicode fits though it is not stated, which is hardly ever chance.
  const fits = samples[0]!.encoding === 'utf-8' && samples[0]!.broken === 0;
  const doubt = chosen === null && (stated === '' || fits || unicode);
  const said = chosen ? encodingTitle(chosen) : stated ? `as stated: ${encodingTitle(stated)}` : 'none is stated';
  const body = (
    <>
      <p className="mb-1 text-sm text-quiet">
        Texts of the file as each encoding has them. Choose the one that reads right.
      </p>
      <div role="radiogroup" aria-label="Text encoding">
        <Choice
          name="encoding"
          checked={chosen === null}
          onChange={() => decide({ encoding: null }, 'encoding as stated')}
        >
          <span>As the file states it</span>
        </Choice>
        {shown.map((s) => (
          <Choice
            key={s.encoding}
            name="encoding"
            checked={chosen === s.encoding}
            onChange={() =>
              decide({ encoding: s.encoding as IntakeDecisions['encoding'] }, `text as ${encodingTitle(s.encoding)}`)
            }
          >
            <span className="min-w-0">
              <span className="block">
                {encodingTitle(s.encoding)} <span className="num text-xs text-quiet">{s.encoding}</span>
                {s.broken > 0 && <span className="text-xs text-alarm"> · {s.broken} characters unreadable</span>}
              </span>
              <span className="block truncate text-sm text-quiet" dir="auto">
                {s.texts.slice(0, 3).join(' · ')}
              </span>
            </span>
          </Choice>
        ))}
      </div>
      {!all && samples.length > shown.length && (
        <Button look="quiet" className="mt-1 text-sm" onClick={() => setAll(true)}>
          Every encoding ({samples.length})
        </Button>
      )}
    </>
  );
  return {
    id: 'encoding',
    title: 'Text encoding',
    said: doubt ? `in doubt: ${said}` : said,
    open: doubt,
    body: () => body,
  };
}
