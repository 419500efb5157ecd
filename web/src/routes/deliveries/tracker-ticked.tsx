import type { TrackerFields } from '@scalaria/core';
import { moneyFrom, moneyText } from '@scalaria/core';
import type { TrackedFile } from '../../api/types';
import { Button } from '../../parts/button';
import { Section, Select, TextField } from '../../parts/field';
import { useNotice } from '../../parts/notice';

const TEXTS = [
  ['file', 'File', 'w-full'],
  ['holds', 'What is in it', 'w-full'],
  ['number', 'Number', 'w-24'],
  ['receiver', 'Receiver', 'w-36'],
  ['material', 'Material', 'w-36'],
  ['thickness', 'Thickness', 'w-24'],
  ['thicknessTrue', 'True thickness', 'w-24'],
  ['who', 'Who', 'w-28'],
] as const;

/** What all of them say; empty where they differ. */
const common = (rows: readonly TrackedFile[], of: (r: TrackedFile) => string): string => {
  const first = of(rows[0]!);
  return rows.every((r) => of(r) === first) ? first : '';
};

/** What is said about the ticked rows: set for all of them at once. */
export function TickedSection({
  rows,
  states,
  onSay,
  onRemove,
}: {
  rows: readonly TrackedFile[];
  states: readonly string[];
  onSay: (changes: { row: TrackedFile; fields: Partial<TrackerFields> }[], said: string) => Promise<boolean>;
  onRemove: (rows: readonly TrackedFile[], said: string) => Promise<void>;
}) {
  const notice = useNotice();
  if (rows.length === 0)
    return (
      <Section title="Ticked rows">
        <p className="text-sm text-quiet">
          Tick rows in the table to say where they are, what they cost, who has them.
        </p>
      </Section>
    );
  const words = rows.length === 1 ? rows[0]!.file || 'a planned file' : `${rows.length} files`;
  const say = (fields: Partial<TrackerFields>, said: string): void =>
    void onSay(
      rows.map((row) => ({ row, fields })),
      `${said} of ${words}.`,
    );
  const planned = rows.every((r) => r.revision === null);
  const state = common(rows, (r) => r.state);
  return (
    <Section title={rows.length === 1 ? 'Ticked row' : `${rows.length} ticked rows`}>
      <div className="flex flex-wrap items-end gap-x-3 gap-y-2">
        <Select
          label="State"
          value={state}
          options={[...(state === '' ? [['', 'different ones'] as const] : []), ...states.map((s) => [s, s] as const)]}
          onChange={(s) => s !== '' && say({ state: s }, `State ${s}`)}
        />
        <label>
          <span className="block text-xs text-quiet">When</span>
          <input
            type="date"
            className="num border border-ink/60 bg-sheet px-2 py-1"
            value={common(rows, (r) => r.when)}
            onChange={(e) => say({ when: e.target.value }, `Date ${e.target.value || 'taken back'}`)}
          />
        </label>
        {TEXTS.filter(([name]) =>
          name === 'file' ? planned && rows.length === 1 : rows.length === 1 || name !== 'number',
        ).map(([name, title, width]) => (
          <TextField
            key={name}
            label={title}
            width={width}
            maxLength={500}
            value={common(rows, (r) => r[name])}
            onChange={(v) => say({ [name]: v.trim() }, title)}
          />
        ))}
        <TextField
          label="Boards"
          width="w-16"
          value={common(rows, (r) => String(r.boards))}
          onChange={(v) =>
            /^\d{1,6}$/.test(v.trim())
              ? say({ boards: Number(v) }, 'Boards')
              : notice({ text: `“${v}” is no number of boards.`, alarm: true })
          }
        />
        <TextField
          label="Price of a board"
          width="w-24"
          value={common(rows, (r) => moneyText(r.priceCents))}
          onChange={(v) => {
            const cents = moneyFrom(v);
            if (cents === null) notice({ text: `“${v}” is no price such as 84.50.`, alarm: true });
            else say({ priceCents: cents }, 'Price');
          }}
        />
        <TextField
          label="Note"
          width="w-full"
          maxLength={500}
          value={common(rows, (r) => r.note)}
          onChange={(note) => say({ note: note.trim() }, 'Note')}
        />
      </div>
      {rows.length > 1 && <p className="mt-1 text-xs text-quiet">Empty fields differ among these rows.</p>}
      {planned && (
        <Button
          className="mt-3"
          onClick={() =>
            void onRemove(
              rows,
              rows.length === 1 ? '1 planned file is taken out.' : `${rows.length} planned files are taken out.`,
            )
          }
        >
          Take out
        </Button>
      )}
    </Section>
  );
}
