import type { Inventory } from '@scalaria/core';
import { kindName } from '@scalaria/core';
import { Section } from '../../parts/field';
import { LongList } from '../../parts/long-list';
import { plainNumber } from '../../parts/numbers';

const COLOURS = 'grid grid-cols-[minmax(0,1fr)_52px_44px_44px_44px] gap-2 py-0.5 text-sm';
const LAYERS = 'grid grid-cols-[minmax(0,1fr)_60px_52px_80px] gap-2 py-0.5 text-sm';

/** All colours with their counts, hex and index; what lies on each layer. */
export function CheckInventory({ inventory, unit }: { inventory: Inventory; unit: string | null }) {
  const { swatches, layers, kinds } = inventory;
  const most = Math.max(1, ...layers.map((l) => l.entities));
  return (
    <>
      <Section title="Colours" aside={<span className="text-sm text-quiet">{swatches.length}</span>}>
        <div className={`${COLOURS} text-xs text-quiet`} aria-hidden>
          <span>hex</span>
          <span className="text-right">index</span>
          <span className="text-right">lines</span>
          <span className="text-right">areas</span>
          <span className="text-right">texts</span>
        </div>
        <LongList label="Colours" rows={swatches} keyOf={(s) => s.hex} height={24}>
          {(s) => (
            <div className={`${COLOURS} num`}>
              <span className="flex items-center gap-1.5">
                <span
                  className="inline-block size-3.5 shrink-0 border border-ink"
                  style={{ background: s.hex }}
                  aria-hidden
                />
                {s.hex}
              </span>
              <span className="text-right" title={s.exact ? 'this very colour' : 'the nearest colour of the palette'}>
                {s.exact ? '' : '≈ '}
                {s.index}
              </span>
              <span className="text-right">{s.lines || ''}</span>
              <span className="text-right">{s.areas || ''}</span>
              <span className="text-right">{s.texts || ''}</span>
            </div>
          )}
        </LongList>
      </Section>
      <Section title="On each layer" aside={<span className="text-sm text-quiet">{layers.length}</span>}>
        <div className={`${LAYERS} text-xs text-quiet`} aria-hidden>
          <span>layer</span>
          <span className="text-right">objects</span>
          <span className="text-right">points</span>
          <span className="text-right">length{unit ? `, ${unit}` : ''}</span>
        </div>
        <LongList label="On each layer" rows={layers} keyOf={(l) => l.name} height={28}>
          {(l) => (
            <div className={LAYERS}>
              <span className="min-w-0" title={l.name}>
                <span className="block truncate">{l.name}</span>
                <Bar part={l.entities / most} />
              </span>
              <span className="num text-right">{l.entities}</span>
              <span className="num text-right">{l.nodes || ''}</span>
              <span className="num text-right">{l.length > 0 ? plainNumber(l.length) : ''}</span>
            </div>
          )}
        </LongList>
      </Section>
      <Section title="Of each kind" aside={<span className="text-sm text-quiet">{kinds.length}</span>}>
        <p className="mb-1 text-xs text-quiet">
          In sight in model space; what blocks show is counted for each placing.
        </p>
        <Kinds kinds={kinds} />
      </Section>
    </>
  );
}

/** How much of the largest a count is, as a bar. The number stands beside it. */
function Bar({ part }: { part: number }) {
  return (
    <span className="block h-[3px] w-full bg-wash" aria-hidden>
      <span className="block h-full bg-ink/70" style={{ width: `${Math.max(1, part * 100)}%` }} />
    </span>
  );
}

function Kinds({ kinds }: { kinds: Inventory['kinds'] }) {
  const most = Math.max(1, ...kinds.map((k) => k.count));
  const all = kinds.reduce((n, k) => n + k.count, 0);
  return (
    <table className="w-full text-sm" aria-label="Of each kind">
      <tbody>
        {kinds.map((k) => (
          <tr key={k.kind}>
            <td className="w-28 py-0.5">{kindName(k.kind as Parameters<typeof kindName>[0], k.count)}</td>
            <td className="px-2 align-middle">
              <Bar part={k.count / most} />
            </td>
            <td className="num w-16 text-right">{plainNumber(k.count)}</td>
            <td className="num w-14 text-right text-quiet">{plainNumber((100 * k.count) / all, 3)} %</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
