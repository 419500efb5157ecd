import { useState } from 'react';
import { originOnSource, settledLength } from './take-in-math';
import { useDrawing } from './drawing-context';
import { Station } from './station';
import { useSourceScene } from './use-scene';
import { FileClaims } from './take-in-claims';
import { UnitSection } from './take-in-unit';
import { KnownSection } from './take-in-known';
import { FieldSections } from './take-in-fields';
import { FontSection } from './take-in-fonts';
import { LayerSection } from './take-in-layers';
import { OriginSection } from './take-in-origin';
import { ContentSection } from './take-in-contents';
import { DecisionSection } from './take-in-decisions';
import { EncodingSection } from './take-in-encoding';
import { KindSection } from './take-in-kinds';
import { PartSection, WindowMark } from './take-in-part';
import { PlaneSection } from './take-in-plane';
import { ReferenceSection } from './take-in-references';
import { RevisionSection } from './take-in-revision';
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

/** Station one: what is this, how big, where, and which parts of it come along. */
export function TakeIn() {
  const { drawing, decide } = useDrawing();
  const { claims, intake } = drawing;
  const [sheet, setSheet] = useState<string | undefined>(undefined);
  const scene = useSourceScene(sheet);
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
  return (
    <Station
      ready={scene !== null}
      view={
        <DrawingView
          scene={scene}
          hidden={hidden}
          unit={sheet === undefined ? settled.viewUnit : 'mm'}
          tools={tools}
          marks={(m) =>
            sheet === undefined && (
              <>
                <OriginMark m={m} at={originOnSource(claims, intake)} />
                <WindowMark m={m} />
              </>
            )
          }
          label={`Drawing ${drawing.name}`}
        />
      }
      book={
        <>
          <SelectionSection tools={tools} figures={{ unit: settled.unit, scale: settled.scale }} />
          {tools.measured && <KnownSection tools={tools} />}
          <DecisionSection />
          <FileClaims />
          <EncodingSection />
          <UnitSection />
          {!tools.measured && <KnownSection tools={tools} />}
          <ContentSection shown={sheet} onShow={show} />
          <LayerSection hidden={hidden} onHidden={setHidden} />
          <ReferenceSection />
          <PartSection tools={tools} />
          <OriginSection picking={picking} onPick={pickOrigin} onStop={() => tools.ask(null)} />
          <PlaneSection />
          <KindSection />
          <FieldSections />
          <FontSection onGoTo={(at) => tools.setGoTo({ ...at, size: reachOf(claims) })} />
          <RevisionSection />
        </>
      }
    />
  );
}
