import * as Comlink from 'comlink';
import type { CoordinateChoices, CoordinatesPreview, ReadCoordinates, UnitName } from '@scalaria/core';
import { coordinatesPreview, parseCoordinates, unitInText } from '@scalaria/core';

/** Wrong lines beyond so many are counted and not listed. */
const LISTED = 200;

/** What a text of coordinates is read as, for a person to look at before it is taken in. */
export interface CoordinatesRead extends Pick<ReadCoordinates, 'columns' | 'third' | 'evidence' | 'wrong' | 'open'> {
  readonly outlines: number;
  readonly moreWrong: number;
  readonly unit: UnitName | null;
  readonly preview: CoordinatesPreview;
}

const api = {
  read(text: string, choices: CoordinateChoices): CoordinatesRead {
    const { outlines, columns, third, evidence, wrong, open } = parseCoordinates(text, choices);
    return {
      outlines: outlines.length,
      columns,
      third,
      evidence,
      open,
      wrong: wrong.slice(0, LISTED),
      moreWrong: Math.max(0, wrong.length - LISTED),
      unit: unitInText(text),
      preview: coordinatesPreview(outlines, third),
    };
  },
};

export type CoordinatesWorker = typeof api;
Comlink.expose(api);
