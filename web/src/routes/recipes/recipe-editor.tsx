import { useMemo, useState } from 'react';
import type { Kept, KeptValue, Recipe, Target } from '@scalaria/core';
import {
  AGREED_FIELDS,
  BESIDE_FIELDS,
  DEFAULT_TARGETS,
  EXPECT_FIELDS,
  FORMAT_CATALOGUE,
  SPLIT_FIELDS,
  canonicalText,
  targetFor,
} from '@scalaria/core';
import useSWR from 'swr';
import { getJson } from '../../api/client';
import { useAllDrawings } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { DrawingDetail, RecipeRow } from '../../api/types';
import { ParameterForm } from '../../forms/parameter-form';
import { Button } from '../../parts/button';
import { Select, TextField } from '../../parts/field';
import { FoldList } from '../../parts/fold-list';
import { counted } from '../../parts/numbers';
import { TargetForm } from '../target-form';
import { NamingEditor } from './naming-editor';
import { RecipeLineage } from './recipe-lineage';
import { RecipeSteps } from './recipe-steps';
import { RecipeYardsticks } from './recipe-yardsticks';

interface Props {
  row: RecipeRow & { recipe: Recipe };
  /** Keeps the recipe; whether it was taken. */
  onKeep: (recipe: Recipe, title: string) => Promise<boolean>;
  onNoted: () => void;
  onAlone: () => void;
}

/** A recipe of the workshop: what a receiver needs, section by section. Nothing is kept until it is said. */
export function RecipeEditor({ row, onKeep, onNoted, onAlone }: Props) {
  const [edited, setEdited] = useState<Recipe | null>(null);
  const [title, setTitle] = useState<string | null>(null);
  const [sending, setSending] = useState(false);
  const drawings = useAllDrawings();
  const recipe = edited ?? row.recipe;
  const change = (more: Partial<Recipe>): void => setEdited({ ...recipe, ...more });
  const target: Target = targetFor(recipe.target?.format ?? 'dxf', { ...recipe.target });
  const [namesFrom, setNamesFrom] = useState('');
  const names = useSWR<DrawingDetail>(namesFrom === '' ? null : paths.drawing(namesFrom), getJson);
  const help = useMemo(
    () => ({
      drawings: drawings.data?.filter((d) => d.drafting).map((d) => [d.id, `${d.name} (${d.job})`] as const) ?? [],
      ...(names.data && {
        layers: names.data.claims.layers.map((l) => l.name),
        layerCounts: names.data.claims.layers,
        fonts: names.data.claims.fonts.map((f) => f.name),
      }),
    }),
    [drawings.data, names.data],
  );
  const isOther =
    (edited !== null && canonicalText(edited) !== canonicalText(row.recipe)) ||
    (title !== null && title.trim() !== row.title);
  const keep = async (): Promise<void> => {
    setSending(true);
    if (await onKeep(recipe, (title ?? row.title).trim() || row.title)) {
      setEdited(null);
      setTitle(null);
    }
    setSending(false);
  };
  const agreed = (recipe.agreed?.['layers'] ?? []) as { name: string }[];
  /** Names of another drawing come in, none twice. */
  const pullIn = (): void => {
    const known = new Set(agreed.map((l) => l.name.toLowerCase()));
    const fresh = (names.data?.claims.layers ?? []).filter((l) => !known.has(l.name.toLowerCase()));
    const rows = fresh.map((l) => ({ name: l.name, colour: null, weight: null }));
    change({ agreed: { ...recipe.agreed, layers: [...agreed, ...rows] as unknown as KeptValue } });
  };
  /** Whose names charts and lists of layers offer: any drawing of any job, a template too. */
  const namesChosen = (
    <Select
      label="Take names from"
      value={namesFrom}
      options={[
        ['', 'choose a drawing …'] as const,
        ...(drawings.data ?? []).map((d) => [d.id, `${d.name} (${d.job})`] as const),
      ]}
      onChange={setNamesFrom}
    />
  );
  const split = String(recipe.split?.['by'] ?? 'drawing');
  const expects = (recipe.expects?.['checks'] ?? []) as string[];
  const form = (
    name: 'split' | 'agreed' | 'expects' | 'beside',
    params: Parameters<typeof ParameterForm>[0]['params'],
  ) => (
    <ParameterForm
      params={params}
      values={(recipe[name] ?? {}) as Kept}
      unit="mm"
      help={help}
      onChange={(v) => change({ [name]: v })}
    />
  );
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="min-h-0 flex-1 overflow-y-auto">
        <div className="flex flex-wrap items-end gap-4 border-b border-rule px-4 py-3">
          <TextField label="Title" value={title ?? row.title} width="w-64" maxLength={120} live onChange={setTitle} />
          <TextField
            label="Receiver"
            value={recipe.receiver ?? ''}
            width="w-48"
            maxLength={120}
            live
            onChange={(receiver) => change({ receiver })}
          />
          <label className="min-w-64 flex-1">
            <span className="block text-xs text-quiet">Note</span>
            <textarea
              rows={1}
              className="w-full border border-ink/60 bg-sheet px-2 py-1"
              maxLength={4000}
              value={recipe.note ?? ''}
              onChange={(e) => change({ note: e.target.value })}
            />
          </label>
        </div>
        <FoldList
          key={row.id}
          sections={[
            row.basedOn && {
              id: 'recipe-lineage',
              title: 'Based on',
              said: `${row.basedOn.title}, ${counted(row.differences.length, 'difference')}`,
              open: row.under.followed.length + row.under.kept.length > 0,
              body: () => <RecipeLineage row={row} onNoted={onNoted} onAlone={onAlone} />,
            },
            {
              id: 'recipe-target',
              title: 'Written as',
              said: recipe.target?.format
                ? `${FORMAT_CATALOGUE[target.format].title} ${target.version}${target.unit ? `, ${target.unit}` : ''}`
                : 'not said yet',
              open: !recipe.target?.format,
              body: () => (
                <>
                  <TargetForm target={target} unit={null} help={help} onChange={(t) => change({ target: t })} />
                  {!recipe.target?.format && (
                    <Button className="mt-2" onClick={() => change({ target: DEFAULT_TARGETS.dxf })}>
                      Take {FORMAT_CATALOGUE.dxf.title} {DEFAULT_TARGETS.dxf.version}
                    </Button>
                  )}
                  {recipe.template && target.options['template'] == null && (
                    <p className="mt-2 text-sm text-alarm">
                      Its template “{recipe.template.name}” is not here: take that very file in, in any job.
                    </p>
                  )}
                </>
              ),
            },
            {
              id: 'recipe-expects',
              title: 'Expected of the drawing',
              said: `${recipe.expects?.['unit'] === false ? 'unit may be open' : 'unit known'}${expects.length > 0 ? `, ${counted(expects.length, 'check')} without findings` : ''}`,
              body: () => form('expects', EXPECT_FIELDS),
            },
            {
              id: 'recipe-steps',
              title: 'Steps',
              said: (recipe.steps ?? []).length === 0 ? 'none' : counted(recipe.steps!.length, 'step'),
              body: () => (
                <>
                  <div className="flex flex-wrap items-end gap-4">
                    <Select
                      label="Steps of the drawing itself"
                      value={recipe.ownSteps ?? 'before'}
                      options={[
                        ['before', 'run first'],
                        ['aside', 'are left aside'],
                      ]}
                      onChange={(ownSteps) => change({ ownSteps })}
                    />
                    {namesChosen}
                  </div>
                  <div className="mt-2">
                    <RecipeSteps steps={recipe.steps ?? []} help={help} onChange={(steps) => change({ steps })} />
                  </div>
                </>
              ),
            },
            {
              id: 'recipe-split',
              title: 'Files',
              said: `one for each ${SPLIT_FIELDS.by.choices[split as keyof typeof SPLIT_FIELDS.by.choices]?.toLowerCase() ?? split}`,
              body: () => form('split', SPLIT_FIELDS),
            },
            {
              id: 'recipe-naming',
              title: 'Names',
              said: recipe.naming?.length ? counted(recipe.naming.length, 'piece') : 'by themselves',
              body: () => (
                <NamingEditor
                  recipe={recipe}
                  pieces={recipe.naming ?? []}
                  ending={`.${FORMAT_CATALOGUE[target.format].extension}`}
                  onChange={(naming) => {
                    const { naming: _n, ...rest } = recipe;
                    setEdited(naming.length > 0 ? { ...rest, naming } : rest);
                  }}
                />
              ),
            },
            {
              id: 'recipe-agreed',
              title: 'Agreed layers',
              said: agreed.length === 0 ? 'as the drawing has them' : counted(agreed.length, 'layer'),
              body: () => (
                <>
                  <div className="mb-2 flex flex-wrap items-end gap-2">
                    {namesChosen}
                    {names.data && (
                      <Button onClick={pullIn}>
                        Take {counted(names.data.claims.layers.length, 'name')}, none twice
                      </Button>
                    )}
                  </div>
                  {form('agreed', AGREED_FIELDS)}
                </>
              ),
            },
            {
              id: 'recipe-beside',
              title: 'Beside the files',
              said: [
                'manifest',
                recipe.beside?.['report'] === false ? '' : 'report',
                recipe.beside?.['pictures'] === true ? 'pictures' : '',
              ]
                .filter(Boolean)
                .join(', '),
              body: () => form('beside', BESIDE_FIELDS),
            },
            {
              id: 'recipe-yardsticks',
              title: 'Yardsticks',
              said: (recipe.yardsticks ?? []).length === 0 ? 'none' : String(recipe.yardsticks!.length),
              body: () => (
                <RecipeYardsticks list={recipe.yardsticks ?? []} onChange={(yardsticks) => change({ yardsticks })} />
              ),
            },
          ]}
        />
      </div>
      {isOther && (
        <div
          className="flex items-center gap-3 border-t border-ink bg-wash px-4 py-2"
          role="region"
          aria-label="Changes"
        >
          <Button look="main" disabled={sending} onClick={() => void keep()}>
            Keep the changes
          </Button>
          <Button
            onClick={() => {
              setEdited(null);
              setTitle(null);
            }}
          >
            Leave
          </Button>
          <span className="text-sm text-quiet">Sets that were made before stay as they are.</span>
        </div>
      )}
    </div>
  );
}
