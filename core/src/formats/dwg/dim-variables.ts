/** How a variable lies in the bits: bit, BS, BD, text, colour, or a handle of a style, block or linetype. */
export type DimKind = 'b' | 'bs' | 'rc' | 'bd' | 't' | 'colour' | 'style' | 'block' | 'linetype';

/**
 * A dimension variable: its name in the header, its group code in a style (0 when a DXF has none), its standard value
 * (DXF reference, DIMSTYLE), and the version it came with.
 */
export type DimVariable = readonly [name: string, kind: DimKind, code: number, standard: number, since?: number];

/** Variables as they are listed here, one to a line: name, kind, code, standard value and version, with blanks between. */
const variables = (text: string): DimVariable[] =>
  text
    .trim()
    .split('\n')
    .map((line): DimVariable => {
      const [name, kind, code, standard, since] = line.trim().split(' ');
      const own = [name!, kind as DimKind, Number(code), Number(standard)] as const;
      return since === undefined ? own : [...own, Number(since)];
    });

/** From version 2000 on, in the order of the bits; styles and header share it. Handles come in order of their own. */
export const DIM_VARIABLES: readonly DimVariable[] = variables(`
  DIMPOST t 3 0
  DIMAPOST t 4 0
  DIMSCALE bd 40 1
  DIMASZ bd 41 0.18
  DIMEXO bd 42 0.0625
  DIMDLI bd 43 0.38
  DIMEXE bd 44 0.18
  DIMRND bd 45 0
  DIMDLE bd 46 0
  DIMTP bd 47 0
  DIMTM bd 48 0
  DIMFXL bd 49 1 2007
  DIMJOGANG bd 50 0.7853981633974483 2007
  DIMTFILL bs 69 0 2007
  DIMTFILLCLR colour 0 0 2007
  DIMTOL b 71 0
  DIMLIM b 72 0
  DIMTIH b 73 1
  DIMTOH b 74 1
  DIMSE1 b 75 0
  DIMSE2 b 76 0
  DIMTAD bs 77 0
  DIMZIN bs 78 0
  DIMAZIN bs 79 0
  DIMARCSYM bs 90 0 2007
  DIMTXT bd 140 0.18
  DIMCEN bd 141 0.09
  DIMTSZ bd 142 0
  DIMALTF bd 143 25.4
  DIMLFAC bd 144 1
  DIMTVP bd 145 0
  DIMTFAC bd 146 1
  DIMGAP bd 147 0.09
  DIMALTRND bd 148 0
  DIMALT b 170 0
  DIMALTD bs 171 2
  DIMTOFL b 172 0
  DIMSAH b 173 0
  DIMTIX b 174 0
  DIMSOXD b 175 0
  DIMCLRD colour 176 0
  DIMCLRE colour 177 0
  DIMCLRT colour 178 0
  DIMADEC bs 179 0
  DIMDEC bs 271 4
  DIMTDEC bs 272 4
  DIMALTU bs 273 2
  DIMALTTD bs 274 2
  DIMAUNIT bs 275 0
  DIMFRAC bs 276 0
  DIMLUNIT bs 277 2
  DIMDSEP bs 278 46
  DIMTMOVE bs 279 0
  DIMJUST bs 280 0
  DIMSD1 b 281 0
  DIMSD2 b 282 0
  DIMTOLJ bs 283 1
  DIMTZIN bs 284 0
  DIMALTZ bs 285 0
  DIMALTTZ bs 286 0
  DIMUPT b 288 0
  DIMATFIT bs 289 3
  DIMFXLON b 290 0 2007
  DIMTXTDIRECTION b 294 0 2010
  DIMALTMZF bd 295 100 2010
  DIMALTMZS t 296 0 2010
  DIMMZF bd 297 100 2010
  DIMMZS t 298 0 2010
`);

/** Weights of lines, which follow the handles in the header and come before them in a style. */
export const DIM_WEIGHTS: readonly DimVariable[] = variables(`
  DIMLWD bs 371 -2
  DIMLWE bs 372 -2
`);

export const DIM_HANDLES: readonly DimVariable[] = variables(`
  DIMTXSTY style 340 0
  DIMLDRBLK block 341 0
  DIMBLK block 342 0
  DIMBLK1 block 343 0
  DIMBLK2 block 344 0
  DIMLTYPE linetype 345 0 2007
  DIMLTEX1 linetype 346 0 2007
  DIMLTEX2 linetype 347 0 2007
`);

/** Versions R13 and R14. */
export const OLD_DIM_VARIABLES: readonly DimVariable[] = variables(`
  DIMTOL b 71 0
  DIMLIM b 72 0
  DIMTIH b 73 1
  DIMTOH b 74 1
  DIMSE1 b 75 0
  DIMSE2 b 76 0
  DIMALT b 170 0
  DIMTOFL b 172 0
  DIMSAH b 173 0
  DIMTIX b 174 0
  DIMSOXD b 175 0
  DIMALTD rc 171 2
  DIMZIN rc 78 0
  DIMSD1 b 281 0
  DIMSD2 b 282 0
  DIMTOLJ rc 283 1
  DIMJUST rc 280 0
  DIMFIT rc 287 3
  DIMUPT b 288 0
  DIMTZIN rc 284 0
  DIMALTZ rc 285 0
  DIMALTTZ rc 286 0
  DIMTAD rc 77 0
  DIMUNIT bs 270 2
  DIMAUNIT bs 275 0
  DIMDEC bs 271 4
  DIMTDEC bs 272 4
  DIMALTU bs 273 2
  DIMALTTD bs 274 2
`);
export const OLD_DIM_SIZES: readonly DimVariable[] = variables(`
  DIMSCALE bd 40 1
  DIMASZ bd 41 0.18
  DIMEXO bd 42 0.0625
  DIMDLI bd 43 0.38
  DIMEXE bd 44 0.18
  DIMRND bd 45 0
  DIMDLE bd 46 0
  DIMTP bd 47 0
  DIMTM bd 48 0
  DIMTXT bd 140 0.18
  DIMCEN bd 141 0.09
  DIMTSZ bd 142 0
  DIMALTF bd 143 25.4
  DIMLFAC bd 144 1
  DIMTVP bd 145 0
  DIMTFAC bd 146 1
  DIMGAP bd 147 0.09
  DIMPOST t 3 0
  DIMAPOST t 4 0
  DIMBLK t 5 0
  DIMBLK1 t 6 0
  DIMBLK2 t 7 0
  DIMCLRD colour 176 0
  DIMCLRE colour 177 0
  DIMCLRT colour 178 0
`);
