import { useState } from 'react';
import type { Manifest } from '@scalaria/core';
import { getJson } from '../../api/client';
import { paths } from '../../api/paths';
import type { SetDetail } from '../../api/types';
import { Button } from '../../parts/button';
import { Choice } from '../../parts/field';
import { Modal } from '../../parts/modal';
import { useNotice } from '../../parts/notice';
import { Progress } from '../../parts/progress';
import type { Clash, ClashChoice, Outgoing } from './save-folder';
import { clashesIn, outgoing, saveInto } from './save-folder';

declare global {
  interface Window {
    showDirectoryPicker?: (options?: { mode?: 'readwrite' }) => Promise<FileSystemDirectoryHandle>;
  }
}

const CHOICES: Readonly<Record<ClashChoice, [string, string]>> = {
  number: ['Add a number', 'both stay'],
  replace: ['Replace', 'what is there goes; every file of every set stays with its job'],
  leave: ['Leave out', 'what is there stays'],
};

interface Found {
  folder: FileSystemDirectoryHandle;
  files: Outgoing[];
  clashes: Clash[];
}

/** Saves a set into a folder: names that are taken are asked about once, with the list. */
export function FolderDialog({ set, onClose }: { set: SetDetail; onClose: () => void }) {
  const [found, setFound] = useState<Found | null>(null);
  const [choice, setChoice] = useState<ClashChoice>('number');
  const [done, setDone] = useState<number | null>(null);
  const notice = useNotice();
  const fail = (e: unknown): void => {
    if ((e as DOMException).name !== 'AbortError') notice({ text: (e as Error).message, alarm: true });
    onClose();
  };
  const save = async ({ folder, files, clashes }: Found): Promise<void> => {
    try {
      setDone(0);
      const made = await saveInto(folder, files, clashes, choice, setDone);
      const words = [
        `${made.written.length} written`,
        ...(made.unchanged.length > 0 ? [`${made.unchanged.length} unchanged`] : []),
        ...(made.left.length > 0 ? [`${made.left.length} left out`] : []),
      ];
      notice({ text: `Into “${folder.name}”: ${words.join(', ')}.` });
      onClose();
    } catch (e) {
      fail(e);
    }
  };
  const choose = async (own: boolean): Promise<void> => {
    try {
      const chosen = await window.showDirectoryPicker!({ mode: 'readwrite' });
      const folder = own ? await chosen.getDirectoryHandle(set.folder, { create: true }) : chosen;
      const manifest = await getJson<Manifest>(paths.setManifest(set.id, 'json'));
      const ids = new Map(set.files.map((f) => [f.name, f.id]));
      const bytesOf = async (path: string): Promise<ArrayBuffer> => {
        const answer = await fetch(path);
        if (!answer.ok) throw new Error(`The server answered ${answer.status}.`);
        return answer.arrayBuffer();
      };
      const files = outgoing(
        manifest,
        ({ file, picture, own: name, beside }) =>
          bytesOf(
            file !== undefined
              ? beside === undefined
                ? paths.deliveryFile(ids.get(file)!)
                : paths.deliveryBeside(ids.get(file)!, beside)
              : picture !== undefined
                ? paths.deliveryPicture(ids.get(manifest.files.find((f) => f.picture?.name === picture)!.name)!)
                : name === 'report.html'
                  ? paths.setReport(set.id)
                  : paths.setManifest(set.id, name === 'manifest.csv' ? 'csv' : 'json'),
          ),
        set.recipe.beside?.['report'] !== false,
      );
      const next = { folder, files, clashes: await clashesIn(folder, files) };
      if (next.clashes.some((c) => !c.same)) setFound(next);
      else await save(next);
    } catch (e) {
      fail(e);
    }
  };
  const taken = found?.clashes.filter((c) => !c.same) ?? [];
  return (
    <Modal open onClose={onClose} title="Save into a folder">
      {done !== null ? (
        <Progress value={done} label="Saving the files" />
      ) : !found ? (
        <>
          <p className="mb-3 text-sm text-quiet">
            By itself the set gets a folder of its own in the one that you choose, called {set.folder}, which holds
            nothing else.
          </p>
          <div className="flex flex-wrap gap-2">
            <Button look="main" onClick={() => void choose(true)}>
              Choose where
            </Button>
            <Button onClick={() => void choose(false)}>Save right into a folder</Button>
          </div>
        </>
      ) : (
        <>
          <p>
            {taken.length === 1 ? '1 name is' : `${taken.length} names are`} taken by other files in “
            {found.folder.name}”:
          </p>
          <ul className="num my-2 max-h-40 overflow-y-auto border border-rule bg-sheet px-2 py-1 text-sm">
            {taken.map((c) => (
              <li key={c.name}>{c.name}</li>
            ))}
          </ul>
          {(Object.keys(CHOICES) as ClashChoice[]).map((c) => (
            <Choice key={c} name="clash" checked={choice === c} onChange={() => setChoice(c)}>
              <span>{CHOICES[c][0]}</span>
              <span className="text-sm text-quiet">{CHOICES[c][1]}</span>
            </Choice>
          ))}
          <div className="mt-3 flex gap-2">
            <Button look="main" onClick={() => void save(found)}>
              Save {found.files.length} files
            </Button>
            <Button onClick={onClose}>Stop, write nothing</Button>
          </div>
        </>
      )}
    </Modal>
  );
}
