import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { PartChange } from '@scalaria/core';
import { JOB_PARTS_HEAD, coverageOf, csvOf, jobPartsLine, tabbedOf } from '@scalaria/core';
import { useJob } from '../../api/hooks';
import { Button } from '../../parts/button';
import { Empty } from '../../parts/empty';
import { Frame } from '../../parts/frame';
import { Panes } from '../../parts/panes';
import { ListBar } from '../../parts/list-tools';
import { plainNumber } from '../../parts/numbers';
import { saveCsv } from '../../parts/save-text';
import { useCopy } from '../../parts/use-copy';
import { JobHead } from '../job-head';
import { NotFound } from '../not-found';
import { ChosenSection } from './chosen-section';
import { CorrectionsDialog } from './corrections-dialog';
import { CoverageBar } from './coverage-bar';
import { NumbersSection } from './numbers-section';
import { PartsTable } from './parts-table';
import type { Shown, Sort, SortKey, TableRow } from './rows';
import { SHOWN, isShown, proposals, sorted, tableRows, tableUnit, tagged } from './rows';
import { DrawingsSection, RulesSection } from './rules-section';
import { useParts } from './use-parts';

const NONE: ReadonlyMap<string, string> = new Map();

/** The parts list of a job: coverage, numbers, what each part is, corrections. */
export function PartsPage() {
  const { job: id } = useParams();
  const job = useJob(id!);
  const { parts, fault, decide, setRules, setListed } = useParts(id!);
  const putOnClipboard = useCopy();
  const [sought, setSought] = useState('');
  const [shown, setShown] = useState<Shown>('all');
  const [sort, setSort] = useState<Sort | null>(null);
  const [ticks, setTicks] = useState<ReadonlySet<string>>(new Set());
  const [proposed, setProposed] = useState<ReadonlyMap<string, string>>(NONE);
  const [correcting, setCorrecting] = useState(false);

  const rows = useMemo(() => (parts ? tableRows(parts) : []), [parts]);
  const listed = useMemo(
    () =>
      sorted(
        rows.filter((r) => isShown(r, sought, shown)),
        sort,
      ),
    [rows, sought, shown, sort],
  );
  const ticked = useMemo(() => rows.filter((r) => ticks.has(r.id)), [rows, ticks]);
  if (fault || job.error) return <NotFound what="job" />;
  const unit = parts ? tableUnit(parts) : 'units';
  const gone = parts?.drawings.flatMap((d) => d.gone) ?? [];
  const coverage = coverageOf(rows.map((r) => ({ ...r, files: r.wentOut.length })));
  const isChosen = parts?.drawings.some((d) => d.listed) ?? false;

  const sortBy = (by: SortKey): void =>
    setSort((s) => (s?.by !== by ? { by, down: false } : s.down ? null : { by, down: true }));
  const tick = (ids: readonly string[], on: boolean): void =>
    setTicks((old) => {
      const next = new Set(old);
      for (const one of ids)
        if (on) next.add(one);
        else next.delete(one);
      return next;
    });
  const propose = (of: readonly TableRow[]): void => {
    setProposed(proposals(of, rows, gone, parts!.rules));
    setShown('all');
  };
  const give = async (): Promise<void> => {
    const changes = rows.flatMap((row) => {
      const number = proposed.get(row.id);
      return number === undefined ? [] : [{ row, change: { number } }];
    });
    if (await decide(changes, changes.length === 1 ? '1 number is given.' : `${changes.length} numbers are given.`))
      setProposed(NONE);
  };
  const takeBack = (of: readonly TableRow[]): void =>
    void decide(
      of.map((row) => ({ row, change: { number: '' } })),
      of.length === 1 ? '1 number is taken back.' : `${of.length} numbers are taken back.`,
    );
  const changeTicked = (change: PartChange, said: string): void =>
    void decide(
      ticked.map((row) => ({ row, change })),
      said,
    );
  const lines = (): (string | number)[][] => [
    JOB_PARTS_HEAD,
    ...listed.map((r) =>
      jobPartsLine({
        ...tagged(r),
        drawing: r.drawing.name,
        revision: r.drawing.revision,
        wentOut: r.wentOut.map((w) => w.file),
      }),
    ),
  ];
  const copy = (): void =>
    putOnClipboard(
      tabbedOf(lines()),
      listed.length === 1 ? '1 line is copied, apart by tabs.' : `${listed.length} lines are copied, apart by tabs.`,
      'Save the table as CSV instead.',
    );
  const save = (): void => saveCsv(csvOf(lines()), 'parts.csv');
  const sum = (of: (r: TableRow) => number): number => listed.reduce((n, r) => n + of(r), 0);

  return (
    <Frame crumbs={<span className="truncate text-ink">{job.data?.job.name}</span>}>
      <Panes
        book={
          <>
            {parts && (
              <>
                {rows.length > 0 && (
                  <>
                    <NumbersSection
                      rows={rows}
                      ticked={ticked}
                      proposed={proposed}
                      onPropose={propose}
                      onGive={() => void give()}
                      onLeave={() => setProposed(NONE)}
                      onTakeBack={takeBack}
                      onShowFaults={() => setShown('faults')}
                    />
                    <ChosenSection rows={ticked} onChange={changeTicked} />
                  </>
                )}
                <DrawingsSection parts={parts} onListed={(d, on) => void setListed(d, on)} />
                {isChosen && <RulesSection rules={parts.rules} unit={unit} onKeep={(r) => void setRules(r)} />}
                {parts.drawings.length === 0 && (
                  <p className="p-4">
                    This job has no drawings yet.{' '}
                    <Link className="underline" to={`/jobs/${id}`}>
                      Take some in
                    </Link>{' '}
                    first.
                  </p>
                )}
              </>
            )}
          </>
        }
      >
        <JobHead
          job={id!}
          aside={
            rows.length > 0 && (
              <span className="flex gap-2">
                <Button onClick={copy}>Copy table</Button>
                <Button onClick={save}>Save as CSV</Button>
                <Button onClick={() => setCorrecting(true)}>Take corrections in</Button>
              </span>
            )
          }
        />
        {parts && !isChosen && (
          <Empty title="Tick the drawings whose outlines are parts, on the right.">
            Each outermost outline becomes a part, with its holes, marks and labels: numbered, counted, and kept over
            revisions.
          </Empty>
        )}
        {isChosen && (
          <>
            <CoverageBar coverage={coverage} />
            <ListBar
              of="parts"
              sought={sought}
              onSeek={setSought}
              shown={shown}
              options={Object.entries(SHOWN) as [Shown, string][]}
              onShow={setShown}
            >
              {ticked.length > 0 && (
                <Button look="quiet" onClick={() => setTicks(new Set())}>
                  Untick {ticked.length}
                </Button>
              )}
            </ListBar>
            <PartsTable rows={listed} sort={sort} onSort={sortBy} ticked={ticks} onTick={tick} proposed={proposed} />
            <p className="num mt-2 text-sm" data-testid="sums">
              {plainNumber(sum((r) => r.quantity))} parts of {plainNumber(listed.length)} kinds · area{' '}
              {plainNumber(
                sum((r) => r.area * r.quantity),
                6,
              )}{' '}
              {unit}² · cut length{' '}
              {plainNumber(
                sum((r) => r.cutLength * r.quantity),
                6,
              )}{' '}
              {unit}
              {listed.length < rows.length && ` · ${rows.length - listed.length} kinds not shown`}
            </p>
          </>
        )}
      </Panes>
      {correcting && (
        <CorrectionsDialog
          rows={rows}
          onClose={() => setCorrecting(false)}
          onTake={({ changes }) => {
            const byKey = new Map(rows.map((r) => [tagged(r).key, r]));
            const said = changes.length === 1 ? '1 part is corrected.' : `${changes.length} parts are corrected.`;
            void decide(
              changes.map(({ key, change }) => ({ row: byKey.get(key)!, change })),
              said,
            ).then((done) => done && setCorrecting(false));
          }}
        />
      )}
    </Frame>
  );
}
