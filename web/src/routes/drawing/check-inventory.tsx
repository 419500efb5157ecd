import type { Inventory } from '@scalaria/core';
import { kindName } from '@scalaria/core';
import { Section } from '../../parts/field';
import { plainNumber } from '../../parts/numbers';

const MOST_COLOURS = 60;

/** All colours with their counts, hex and index; what lies on each layer. */
export function CheckInventory({ inventory, unit }: { inventory: Inventory; unit: string | null }) {
  const { swatches, layers, kinds } = inventory;
  const most = Math.max(1, ...layers.map((l) => l.entities));
  const cell = 'num py-0.5 pl-3 text-right';
  return (
    <>
      <Section title="Colours" aside={<span className="text-sm text-quiet">{swatches.length}</span>}>
        <table className="w-full text-sm" aria-label="Colours">
          <thead className="text-left text-xs text-quiet">
            <tr>
              <th className="font-normal">hex</th>
              <th className={`${cell} font-normal`}>index</th>
              <th className={`${cell} font-normal`}>lines</th>
              <th className={`${cell} font-normal`}>areas</th>
              <th className={`${cell} font-normal`}>texts</th>
            </tr>
          </thead>
          <tbody>
            {swatches.slice(0, MOST_COLOURS).map((s) => (
              <tr key={s.hex}>
                <td className="num flex items-center gap-1.5 py-0.5">
                  <span className="inline-block size-3.5 border border-ink" style={{ background: s.hex }} />
                  {s.hex}
                </td>
                <td className={cell} title={s.exact ? 'this very colour' : 'the nearest colour of the palette'}>
                  {s.exact ? '' : '≈ '}
                  {s.index}
                </td>
                <td className={cell}>{s.lines || ''}</td>
                <td className={cell}>{s.areas || ''}</td>
                <td className={cell}>{s.texts || ''}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {swatches.length > MOST_COLOURS && <p className="text-sm">The {MOST_COLOURS} most used are listed.</p>}
      </Section>
      <Section title="On each layer" aside={<span className="text-sm text-quiet">{layers.length}</span>}>
        <table className="w-full text-sm" aria-label="On each layer">
          <thead className="text-left text-xs text-quiet">
            <tr>
              <th className="font-normal">layer</th>
              <th className={`${cell} font-normal`}>objects</th>
              <th className={`${cell} font-normal`}>points</th>
              <th className={`${cell} font-normal`}>length{unit ? `, ${unit}` : ''}</th>
            </tr>
          </thead>
          <tbody>
            {layers.map((l) => (
              <tr key={l.name}>
                <td className="max-w-28 py-0.5" title={l.name}>
                  <span className="block truncate">{l.name}</span>
                  <Bar part={l.entities / most} />
                </td>
                <td className={cell}>{l.entities}</td>
                <td className={cell}>{l.nodes || ''}</td>
                <td className={cell}>{l.length > 0 ? plainNumber(l.length) : ''}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Section>
      <Section title="Of each kind" aside={<span className="text-sm text-quiet">{kinds.length}</span>}>
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
