import { useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Recipe } from '@scalaria/core';
import { ApiError, sendJson } from '../../api/client';
import { useRecipes } from '../../api/hooks';
import { paths } from '../../api/paths';
import type { RecipeRow } from '../../api/types';
import { Button } from '../../parts/button';
import { Empty } from '../../parts/empty';
import { Frame } from '../../parts/frame';
import { SearchField } from '../../parts/list-tools';
import { Modal } from '../../parts/modal';
import { NameDialog } from '../../parts/name-dialog';
import { useNotice } from '../../parts/notice';
import { WorkshopHead } from '../workshop-head';
import { RecipeEditor } from './recipe-editor';

/** The recipes of the workshop. */
export function RecipesPage() {
  const { data: recipes, error, mutate } = useRecipes();
  const [query, setQuery] = useSearchParams();
  const [sought, setSought] = useState('');
  const [making, setMaking] = useState(false);
  const [deriving, setDeriving] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const notice = useNotice();
  const chosen = recipes?.find((r) => r.id === query.get('recipe')) ?? recipes?.[0];
  const tell = (e: unknown): void => {
    const x = e as ApiError;
    notice({ text: `${x.message} ${x.remedy ?? ''}`, alarm: true });
  };
  const make = async (body: object): Promise<void> => {
    const made = await sendJson<RecipeRow>('POST', paths.recipes, body);
    await mutate();
    setQuery({ recipe: made.id });
  };
  const patch = async (row: RecipeRow, body: object): Promise<boolean> => {
    try {
      await sendJson('PATCH', paths.recipe(row.id), body);
      return true;
    } catch (e) {
      tell(e);
      return false;
    } finally {
      await mutate();
    }
  };
  const keep = async (row: RecipeRow & { recipe: Recipe }, recipe: Recipe, title: string): Promise<boolean> => {
    const back = { recipe: row.recipe, title: row.title };
    const done = await patch(row, { recipe, title, seen: row.version });
    if (done) notice({ text: `“${title}” is kept.`, undo: () => void patch(row, back) });
    return done;
  };
  const takeIn = async (file: File): Promise<void> => {
    try {
      let data: Recipe;
      try {
        data = JSON.parse(await file.text()) as Recipe;
      } catch {
        throw new ApiError(400, `“${file.name}” is no recipe: it is not JSON.`);
      }
      await make({ title: data.title?.trim() || file.name.replace(/(\.recipe)?\.json$/i, ''), recipe: data });
    } catch (e) {
      tell(e);
    }
  };
  const remove = async (row: RecipeRow): Promise<void> => {
    if (await patch(row, { deleted: true }))
      notice({ text: `“${row.title}” is deleted.`, undo: () => void patch(row, { deleted: false }) });
  };
  const words = sought.trim().toLowerCase();
  const shown = recipes?.filter((r) => `${r.title} ${r.recipe?.receiver ?? ''}`.toLowerCase().includes(words)) ?? [];
  return (
    <Frame>
      <div className="flex h-full flex-col px-6 pt-6">
        <h1 className="sr-only">Recipes</h1>
        <WorkshopHead
          aside={
            <span className="flex gap-2">
              <Button onClick={() => picker.current?.click()}>Take in a file</Button>
              <Button look="main" onClick={() => setMaking(true)}>
                New recipe
              </Button>
            </span>
          }
        />
        <input
          ref={picker}
          type="file"
          accept=".json,application/json"
          className="sr-only"
          tabIndex={-1}
          aria-label="A recipe to take in"
          onChange={(e) => {
            const [file] = e.target.files ?? [];
            e.target.value = '';
            if (file) void takeIn(file);
          }}
        />
        {error && <p className="text-alarm">{(error as Error).message}</p>}
        {recipes?.length === 0 && (
          <Empty title="No recipe yet.">
            A recipe is what a receiver needs: format and unit, steps, layers, how drawings become files and what those
            are called. Make one here, take one in as a file, or make one from what was done on a drawing, at its
            station Deliver.
          </Empty>
        )}
        {recipes && recipes.length > 0 && (
          <div className="grid min-h-0 flex-1 grid-cols-[250px_minmax(0,1fr)] border-t border-rule">
            <nav aria-label="Recipes" className="flex min-h-0 flex-col border-r border-rule py-3 pr-3">
              {recipes.length > 6 && (
                <SearchField
                  label="Search the recipes"
                  value={sought}
                  onChange={setSought}
                  className="mb-2 w-full bg-sheet"
                />
              )}
              <ul className="min-h-0 flex-1 overflow-y-auto">
                {shown.map((r) => (
                  <li key={r.id}>
                    <Link
                      to={`?recipe=${r.id}`}
                      aria-current={r.id === chosen?.id ? 'true' : undefined}
                      className={`block px-2 py-1.5 hover:bg-wash ${r.id === chosen?.id ? 'bg-wash' : ''}`}
                    >
                      <span className="block truncate font-medium">{r.title}</span>
                      <span className={`block truncate text-xs ${r.fault ? 'text-alarm' : 'text-quiet'}`}>
                        {r.fault
                          ? 'cannot be used'
                          : r.basedOn
                            ? `based on ${r.basedOn.title}`
                            : r.recipe?.receiver || 'for anybody'}
                      </span>
                    </Link>
                  </li>
                ))}
              </ul>
            </nav>
            {chosen && (
              <section aria-label={`Recipe ${chosen.title}`} className="flex min-h-0 flex-col">
                <div className="flex flex-wrap items-center gap-2 border-b border-rule px-4 py-2">
                  <Button onClick={() => setDeriving(true)} disabled={!chosen.recipe}>
                    Derive another
                  </Button>
                  <a
                    className="border border-ink/60 px-3 py-1 hover:bg-wash"
                    href={paths.recipeFile(chosen.id)}
                    download
                  >
                    Save as a file
                  </a>
                  <Button look="quiet" className="ml-auto" onClick={() => void remove(chosen)}>
                    Delete
                  </Button>
                </div>
                {chosen.recipe ? (
                  <RecipeEditor
                    key={chosen.id}
                    row={chosen as RecipeRow & { recipe: Recipe }}
                    onKeep={(recipe, title) => keep(chosen as RecipeRow & { recipe: Recipe }, recipe, title)}
                    onNoted={() => void patch(chosen, { noted: true })}
                    onAlone={() =>
                      void sendJson('POST', paths.recipeAlone(chosen.id))
                        .catch(tell)
                        .then(() => mutate())
                    }
                  />
                ) : (
                  <p className="p-4 text-alarm">{chosen.fault}</p>
                )}
              </section>
            )}
          </div>
        )}
      </div>
      <NameDialog
        open={making}
        title="New recipe"
        button="Make recipe"
        initial=""
        onClose={() => setMaking(false)}
        onName={async (title) => {
          await make({ title, recipe: { recipe: 2, target: { format: 'dxf', version: '2010' } } });
          setMaking(false);
        }}
      />
      {deriving && chosen && (
        <DeriveDialog
          from={chosen}
          onClose={() => setDeriving(false)}
          onDerive={async (title, why) => {
            await make({ title, basedOn: chosen.id, why });
            setDeriving(false);
          }}
        />
      )}
    </Frame>
  );
}

function DeriveDialog({
  from,
  onClose,
  onDerive,
}: {
  from: RecipeRow;
  onClose: () => void;
  onDerive: (title: string, why: string) => Promise<void>;
}) {
  const [fault, setFault] = useState<string | null>(null);
  return (
    <Modal open onClose={onClose} title={`Derive from “${from.title}”`}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          const data = new FormData(e.currentTarget);
          const [title, why] = ['title', 'why'].map((n) => String(data.get(n) ?? '').trim()) as [string, string];
          if (!title) return setFault('Give it a title.');
          if (!why) return setFault('Say why it is otherwise.');
          onDerive(title, why).catch((x: unknown) => setFault((x as Error).message));
        }}
      >
        <label className="block">
          <span className="text-xs text-quiet">Title</span>
          <input name="title" maxLength={120} autoFocus className="w-full border border-ink/60 bg-sheet px-2 py-1" />
        </label>
        <label className="mt-2 block">
          <span className="text-xs text-quiet">Why is it otherwise?</span>
          <textarea name="why" rows={2} maxLength={1000} className="w-full border border-ink/60 bg-sheet px-2 py-1" />
        </label>
        <p className="mt-1 text-sm text-quiet">It follows “{from.title}” in everything that you do not change.</p>
        {fault && <p className="mt-1 text-sm text-alarm">{fault}</p>}
        <div className="mt-4 flex justify-end gap-3">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit">
            Derive
          </Button>
        </div>
      </form>
    </Modal>
  );
}
