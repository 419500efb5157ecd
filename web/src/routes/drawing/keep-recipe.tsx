import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { Target } from '@scalaria/core';
import { sendJson } from '../../api/client';
import { paths } from '../../api/paths';
import { Button } from '../../parts/button';
import { Modal } from '../../parts/modal';
import { NameDialog } from '../../parts/name-dialog';
import { useDrawing } from './drawing-context';

interface Made {
  id: string;
  behind: { what: string; why: string }[];
}

/** What was done on a drawing as a recipe of the workshop; what names objects of it stays behind, told. */
export function KeepRecipe({ open, target, onClose }: { open: boolean; target: Target; onClose: () => void }) {
  const { drawing } = useDrawing();
  const [made, setMade] = useState<Made | null>(null);
  const go = useNavigate();
  if (made)
    return (
      <Modal open onClose={() => setMade(null)} title="Kept, but for this">
        <ul className="text-sm">
          {made.behind.map((b, i) => (
            <li key={i}>
              <b className="font-medium">{b.what}</b>: {b.why}
            </li>
          ))}
        </ul>
        <div className="mt-4 flex justify-end gap-3">
          <Button onClick={() => setMade(null)}>Stay here</Button>
          <Button look="main" onClick={() => void go(`/recipes?recipe=${made.id}`)}>
            Look at the recipe
          </Button>
        </div>
      </Modal>
    );
  return (
    <NameDialog
      open={open}
      title="Keep steps and target as a recipe"
      button="Keep"
      initial=""
      onClose={onClose}
      onName={async (title) => {
        const { name: _name, parts: _parts, ...rest } = target;
        const kept = await sendJson<Made>('POST', paths.recipeOf(drawing.id), { title, keep: true, target: rest });
        onClose();
        if (kept.behind.length > 0) setMade(kept);
        else await go(`/recipes?recipe=${kept.id}`);
      }}
    />
  );
}
