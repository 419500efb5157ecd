import { useEffect, useState } from 'react';
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/react';
import type { Alike, Description, Fact } from '@scalaria/core';
import { ALIKE } from '@scalaria/core';
import { Button } from '../../../parts/button';
import { Section } from '../../../parts/field';
import { plainNumber } from '../../../parts/numbers';
import { useDrawing } from '../drawing-context';
import { CopyButton } from './copy-button';
import type { Figures } from './figures';
import { angles, areas, lengths } from './figures';
import type { Tools } from './use-tools';

const ALIKE_WORDS: Record<Alike, string> = {
  layer: 'on the same layer',
  colour: 'of the same colour',
  kind: 'of the same kind',
  block: 'of the same block',
  size: 'of the same size',
};

function said(f: Fact, figures: Figures): string[] {
  if ('text' in f) return [f.text];
  switch (f.of) {
    case 'length':
      return lengths(figures, f.value);
    case 'area':
      return areas(figures, f.value);
    case 'angle':
      return angles(f.value).slice(0, 1);
    case 'count':
      return [plainNumber(f.value)];
  }
}

/** What is selected, in words and numbers, and what can be done with it. Nothing while nothing is. */
export function SelectionSection({ tools, figures }: { tools: Tools; figures: Figures }) {
  const { worker } = useDrawing();
  const { selected } = tools;
  const [told, setTold] = useState<Description | null>(null);
  useEffect(() => {
    if (!worker || selected.size === 0) return setTold(null);
    let live = true;
    worker.describe([...selected]).then(
      (d) => live && setTold(d),
      () => {},
    );
    return () => {
      live = false;
    };
  }, [worker, selected]);
  if (!told) return null;
  const rows = told.facts.map((f) => [f.label, said(f, figures)] as const);
  const text = [told.title, ...rows.map(([label, values]) => `${label}\t${values.join('\t')}`)].join('\n');
  return (
    <Section title={told.title} aside={<CopyButton text={text} what="what is known of it" />}>
      <dl className="grid grid-cols-[auto_1fr] gap-x-3 text-sm" data-testid="selection">
        {rows.map(([label, values], i) => (
          <div key={i} className="contents">
            <dt className="text-quiet">{label}</dt>
            <dd className="num min-w-0 break-words">{values.join(' · ')}</dd>
          </div>
        ))}
      </dl>
      <div className="mt-2 flex flex-wrap gap-2 text-sm">
        <Button onClick={tools.zoomToSelected} title="z">
          Zoom to selection
        </Button>
        <Button onClick={tools.hideSelected} title="h">
          Hide
        </Button>
        <Button onClick={tools.isolateSelected} title="o">
          Show only selection
        </Button>
        <Menu>
          <MenuButton className="border border-ink/60 px-3 py-1 hover:bg-wash">Select all …</MenuButton>
          <MenuItems anchor="bottom end" className="z-20 border border-ink bg-paper py-1">
            {ALIKE.map((a) => (
              <MenuItem key={a}>
                <button
                  type="button"
                  className="block w-full px-3 py-1 text-left data-focus:bg-wash"
                  onClick={() => tools.selectAlike(a)}
                >
                  {ALIKE_WORDS[a]}
                </button>
              </MenuItem>
            ))}
          </MenuItems>
        </Menu>
      </div>
    </Section>
  );
}
