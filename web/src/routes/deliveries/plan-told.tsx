import type { SetPlanView } from '../../api/types';
import { Section } from '../../parts/field';
import { counted, plainNumber } from '../../parts/numbers';

/** What a set would hold and what it would lose, drawing by drawing, before anything is written. */
export function PlanTold({ plan }: { plan: SetPlanView }) {
  const told = plan.sources.filter((s) => s.losses.length > 0);
  const waived = plan.sources.filter((s) => s.waived.length > 0);
  return (
    <>
      <Section title="What would be lost">
        {told.length === 0 ? (
          <p className="text-sm text-quiet">{plan.looking > 0 ? 'Not known yet.' : 'Nothing.'}</p>
        ) : (
          <ul className="space-y-2 text-sm">
            {told.map((s) => (
              <li key={s.id}>
                <p className="font-medium">{s.name}</p>
                <ul>
                  {s.losses.slice(0, 8).map((l) => (
                    <li key={l.reason} className={l.action === 'dropped' ? 'text-alarm' : ''}>
                      {l.reason} <span className="num text-quiet">({l.count})</span>
                    </li>
                  ))}
                  {s.losses.length > 8 && <li className="text-quiet">and {s.losses.length - 8} more</li>}
                </ul>
              </li>
            ))}
          </ul>
        )}
      </Section>
      {waived.length > 0 && (
        <Section title="Let through">
          <ul className="text-sm">
            {waived.flatMap((s) =>
              s.waived.map((w) => (
                <li key={`${s.id} ${w.check}`}>
                  {s.name}: {w.check} ({w.count}): {w.why}
                </li>
              )),
            )}
          </ul>
        </Section>
      )}
      <Section title="Layers">
        <ul className="space-y-1 text-sm">
          {plan.sources.map((s) => (
            <li key={s.id}>
              <LayersOf name={s.name} ready={s.ready} objects={s.objects} layers={s.layers} />
            </li>
          ))}
        </ul>
      </Section>
    </>
  );
}

/** Most layers of a drawing that are named. */
const MOST_LAYERS = 60;

/** The layers of a drawing as the recipe prepares it, with how much is on each; of its file where it is not looked at yet. */
function LayersOf({
  name,
  ready,
  objects,
  layers,
}: Pick<SetPlanView['sources'][number], 'name' | 'ready' | 'objects' | 'layers'>) {
  const said = `${counted(objects, 'object')} on ${counted(layers.filter((l) => l.objects > 0).length, 'layer')}`;
  const empty = layers.filter((l) => l.objects === 0).length;
  return (
    <details>
      <summary className="cursor-pointer">
        <span className="font-medium">{name}</span>{' '}
        <span className="text-quiet">
          {said}
          {empty > 0 && `, ${empty} empty`}
          {!ready && ', as the file says'}
        </span>
      </summary>
      <ul className="mt-1 mb-2 pl-4">
        {layers.slice(0, MOST_LAYERS).map((l) => (
          <li key={l.name} className="flex justify-between gap-2">
            <span className="truncate">{l.name}</span>
            <span className="num shrink-0 text-quiet">{plainNumber(l.objects)}</span>
          </li>
        ))}
        {layers.length > MOST_LAYERS && <li className="text-quiet">and {layers.length - MOST_LAYERS} more</li>}
      </ul>
    </details>
  );
}
