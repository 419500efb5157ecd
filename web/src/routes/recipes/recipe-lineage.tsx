import type { RecipeRow, ToldDifference } from '../../api/types';
import { Button } from '../../parts/button';

const short = (v: unknown): string => {
  if (v === undefined) return 'not there';
  if (typeof v === 'object' && v !== null && 'from' in v && 'to' in v) return String((v as { to: unknown }).to);
  const text = typeof v === 'string' ? v : JSON.stringify(v);
  return text.length > 80 ? `${text.slice(0, 79)}…` : text;
};

/** What a recipe is based on and why, what it has otherwise, and what changed under it. */
export function RecipeLineage({ row, onNoted, onAlone }: { row: RecipeRow; onNoted: () => void; onAlone: () => void }) {
  const { basedOn, differences, under } = row;
  if (!basedOn) return null;
  const news = [...under.followed, ...under.kept];
  return (
    <>
      <p>
        Based on <b>{basedOn.title}</b>: {basedOn.why}
      </p>
      {news.length > 0 && (
        <div className="my-2 border-l-2 border-alarm pl-3 text-sm" role="status">
          <p className="font-medium">“{basedOn.title}” has changed since you looked.</p>
          <ul>
            {under.followed.map((d) => (
              <li key={d.words}>
                {d.words}: {short(d.was)} → {short(d.is)}, followed here
              </li>
            ))}
            {under.kept.map((d) => (
              <li key={d.words}>
                {d.words}: {short(d.was)} → {short(d.is)}, not followed: this recipe has its own
              </li>
            ))}
          </ul>
          <Button className="mt-1" onClick={onNoted}>
            Noted
          </Button>
        </div>
      )}
      {differences.length === 0 ? (
        <p className="text-sm text-quiet">Nothing is otherwise yet.</p>
      ) : (
        <table className="mt-2 w-full text-sm">
          <caption className="pb-1 text-left text-quiet">
            {differences.length === 1 ? '1 difference' : `${differences.length} differences`}
          </caption>
          <thead>
            <tr className="border-b border-ink text-left text-xs text-quiet">
              <th className="py-1 pr-3 font-normal">What</th>
              <th className="py-1 pr-3 font-normal">{basedOn.title}</th>
              <th className="py-1 font-normal">{row.title}</th>
            </tr>
          </thead>
          <tbody>
            {differences.map((d: ToldDifference) => (
              <tr key={d.words} className="border-b border-rule align-top">
                <td className="py-1 pr-3">{d.words}</td>
                <td className="py-1 pr-3 [overflow-wrap:anywhere]">{short(d.was)}</td>
                <td className="py-1 [overflow-wrap:anywhere]">{short(d.is)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Button look="quiet" className="mt-2 text-sm" onClick={onAlone}>
        Let it stand alone
      </Button>
    </>
  );
}
