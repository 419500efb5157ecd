import { Button } from '../../parts/button';
import { Section } from '../../parts/field';
import type { TableRow } from './rows';

const parts = (n: number): string => (n === 1 ? '1 part' : `${n} parts`);
const numbers = (n: number): string => (n === 1 ? '1 number' : `${n} numbers`);

/** Which parts have a number of their own; numbers proposed, given and taken back. */
export function NumbersSection({
  rows,
  ticked,
  proposed,
  onPropose,
  onGive,
  onLeave,
  onTakeBack,
  onShowFaults,
}: {
  rows: readonly TableRow[];
  ticked: readonly TableRow[];
  proposed: ReadonlyMap<string, string>;
  onPropose: (rows: readonly TableRow[]) => void;
  onGive: () => void;
  onLeave: () => void;
  onTakeBack: (rows: readonly TableRow[]) => void;
  onShowFaults: () => void;
}) {
  const none = rows.filter((r) => r.numberState === 'none');
  const twice = rows.filter((r) => r.numberState === 'twice');
  const given = ticked.filter((r) => r.numbered === 'kept');
  const isSound = none.length + twice.length === 0;
  return (
    <Section title="Numbers">
      <p data-testid="numbers" className={isSound ? '' : 'border-l-2 border-alarm pl-2'}>
        {isSound ? (
          'Each part that is not left out has a number of its own.'
        ) : (
          <>
            {none.length > 0 && `${parts(none.length)} without a number. `}
            {twice.length > 0 && `${parts(twice.length)} share a number with another. `}
            <Button look="quiet" onClick={onShowFaults}>
              Show
            </Button>
          </>
        )}
      </p>
      {proposed.size > 0 ? (
        <div className="mt-2 flex flex-wrap items-center gap-2">
          <Button look="main" onClick={onGive}>
            Give {numbers(proposed.size)}
          </Button>
          <Button onClick={onLeave}>Leave</Button>
          <span className="text-sm text-quiet">Proposed in the table.</span>
        </div>
      ) : (
        <div className="mt-2 flex flex-wrap items-center gap-2">
          {none.length > 0 && <Button onClick={() => onPropose(none)}>Number those without</Button>}
          {ticked.length > 0 ? (
            <Button onClick={() => onPropose(ticked)}>Number {parts(ticked.length)}</Button>
          ) : (
            <Button onClick={() => onPropose(rows)}>Number all anew</Button>
          )}
          {given.length > 0 && <Button onClick={() => onTakeBack(given)}>Take {numbers(given.length)} back</Button>}
        </div>
      )}
    </Section>
  );
}
