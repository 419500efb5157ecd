import { useState } from 'react';
import { COMMON_UNITS } from '@scalaria/core';
import { useAction } from '../../parts/actions';
import { originOnSource, settledLength } from './take-in-math';
import { useDrawing } from './drawing-context';
import { Station } from './station';
import { useSourceScene } from './use-scene';
import { useClaimsSection } from './take-in-claims';
import { useUnitSection } from './take-in-unit';
import { MeasuredTrue, useKnownSection } from './take-in-known';
import { useFieldSections } from './take-in-fields';
import { useFontSection } from './take-in-fonts';
import { useLayerSection } from './take-in-layers';
import { useOriginSection } from './take-in-origin';
import { useContentSection } from './take-in-contents';
import { useDecisionSection } from './take-in-decisions';
import { useEncodingSection } from './take-in-encoding';
import { useKindSection } from './take-in-kinds';
import { FrameMark, usePartSection } from './take-in-part';
import { usePageSection } from './take-in-page';
import { usePlaneSection } from './take-in-plane';
import { useReferenceSection } from './take-in-references';
import { useRevisionSection } from './take-in-revision';
import { useUnderSection } from './take-in-under';
import { FoldList } from '../../parts/fold-list';
import { DrawingView } from './view/drawing-view';
import { OriginMark } from './view/marks';
import { SelectionSection } from './view/selection-section';
import { useTools } from './view/use-tools';

/** How much of the drawing is in sight when one place of it is gone to. */
const reachOf = ({
  bounds: b,
}: {
  bounds: { minX: number; maxX: number; minY: number; maxY: number } | null;
}): number => (b ? Math.hypot(b.maxX - b.minX, b.maxY - b.minY) / 6 : 1);

/** Station one: what is this, how big, where, and which parts of it are taken in. */
export function TakeIn() {
  const { drawing, decide } = useDrawing();
  const { claims, intake } = drawing;
  const [sheet, setSheet] = useState<string | undefined>(undefined);
  const { scene, rough } = useSourceScene(sheet);
  const [hidden, setHidden] = useState<ReadonlySet<string>>(
    () => new Set(claims.layers.filter((l) => l.off || l.frozen).map((l) => l.name)),
  );
  const tools = useTools(scene, hidden);
  const settled = settledLength(claims, intake);
  const show = (next: string | undefined): void => {
    setSheet(next);
    tools.setTool('select');
  };
  const pickOrigin = (): void =>
    tools.ask({
      words: 'Click the point that becomes the origin.',
      onPlace: (p) => {
        decide({ origin: { mode: 'point', x: p.x * settled.scale, y: p.y * settled.scale } }, 'origin picked');
        tools.ask(null);
      },
    });
  const picking = tools.tool === 'ask' && tools.asked?.onPlace !== undefined;
  for (const unit of COMMON_UNITS)
    // The list never changes its length.
    // eslint-disable-next-line react-hooks/rules-of-hooks
    useAction(`Use the unit ${unit}`, '', () => decide({ unit }, `unit ${unit}`), false);
  // What is still open comes first; all else is a line each, in the order in which one thinks of it.
  const sections = [
    useUnitSection(),
    usePageSection(),
    useEncodingSection(),
    useReferenceSection(),
    useLayerSection({ hidden, onHidden: setHidden }),
    useContentSection(sheet, show),
    usePartSection(tools),
    useOriginSection({ picking, onPick: pickOrigin, onStop: () => tools.ask(null) }),
    useUnderSection(tools),
    usePlaneSection(),
    useKindSection(),
    ...useFieldSections(),
    useFontSection((at) => tools.setGoTo({ ...at, size: reachOf(claims) })),
    useKnownSection(tools),
    useDecisionSection(),
    useClaimsSection(),
    useRevisionSection(),
  ];
  return (
    <Station
      ready={scene !== null}
      view={
        <DrawingView
          scene={scene}
          hidden={hidden}
          unit={sheet === undefined ? settled.viewUnit : 'mm'}
          tools={tools}
          unfinished={rough}
          marks={(m) =>
            sheet === undefined && (
              <>
                <OriginMark m={m} at={originOnSource(claims, intake)} />
                <FrameMark m={m} />
              </>
            )
          }
          label={`Drawing ${drawing.name}`}
        />
      }
      book={
        <>
          <SelectionSection tools={tools} figures={{ unit: settled.unit, scale: settled.scale }} />
          {tools.measured && <MeasuredTrue tools={tools} />}
          <FoldList sections={sections} />
        </>
      }
    />
  );
}
