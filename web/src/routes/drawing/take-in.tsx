import { useState } from 'react';
import { originOnSource, settledLength } from './take-in-math';
import { useDrawing } from './drawing-context';
import { Station } from './station';
import { useSourceScene } from './use-scene';
import { FileClaims } from './take-in-claims';
import { UnitSection } from './take-in-unit';
import { KnownSection } from './take-in-known';
import { ArtSection } from './take-in-art';
import { FontSection } from './take-in-fonts';
import { LayerSection } from './take-in-layers';
import { OriginSection } from './take-in-origin';
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
  return (
    <Station
      ready={scene !== null}
      view={
        <DrawingView
          scene={scene}
          hidden={hidden}
          unit={sheet === undefined ? settled.viewUnit : 'mm'}
          tools={tools}
          marks={(m) => sheet === undefined && <OriginMark m={m} at={originOnSource(claims, intake)} />}
          label={`Drawing ${drawing.name}`}
          aside={claims.sheets.length > 0 && <SheetChoice sheets={claims.sheets} shown={sheet} onShow={show} />}
        />
      }
      book={
        <>
          <SelectionSection tools={tools} figures={{ unit: settled.unit, scale: settled.scale }} />
          <FileClaims />
          <UnitSection />
          <KnownSection tools={tools} />
          <LayerSection hidden={hidden} onHidden={setHidden} />
          <ArtSection />
          <FontSection onGoTo={(at) => tools.setGoTo({ ...at, size: reachOf(claims) })} />
          <OriginSection picking={tools.tool === 'ask'} onPick={pickOrigin} onStop={() => tools.ask(null)} />
        </>
      }
    />
  );
}

/** Model space and the sheets, one of them in sight. Deliveries are of model space; the sheets go along in a DXF or DWG. */
function SheetChoice({
  sheets,
  shown,
  onShow,
}: {
  sheets: readonly string[];
  shown: string | undefined;
  onShow: (sheet: string | undefined) => void;
}) {
  const choice = (name: string, sheet: string | undefined) => (
    <button
      key={name}
      type="button"
      aria-pressed={shown === sheet}
      onClick={() => onShow(sheet)}
      className={`max-w-40 truncate border-b-2 px-2.5 py-1 text-sm ${shown === sheet ? 'border-ink font-medium' : 'border-transparent text-quiet hover:text-ink'}`}
    >
      {name}
    </button>
  );
  return (
    <div role="group" aria-label="Space" className="mr-2 flex max-w-[45%] overflow-x-auto border-r border-rule">
      {choice('Model space', undefined)}
      {sheets.map((s) => choice(s, s))}
    </div>
  );
}
