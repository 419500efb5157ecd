import { describe, expect, it } from 'vitest';
import { filesNamedBy, foundAmong, referencesAmong } from '../src/index.js';
import { demoFile, drawingOf, read, svg } from './helpers.js';

describe('files that a drawing names', () => {
  it('the street of the site plan, placed once', () => {
    expect(filesNamedBy(read(demoFile('kestrel-row-site-plan.dwg'), 'x.dwg'))).toMatchObject([
      { kind: 'drawing', places: 1 },
    ]);
  });
  it('pictures by their path, once for all places, with the name at its end; not those that the file holds', () => {
    const image = (file: string | undefined, data?: string) => ({
      kind: 'image',
      cover: false,
      at: [0, 0, 0],
      u: [1, 0, 0],
      v: [0, 1, 0],
      pixels: [4, 4],
      ...(file && { file }),
      ...(data && { data }),
    });
    const d = drawingOf([
      image('C:\\Site\\Photo 1.PNG'),
      image('C:\\Site\\Photo 1.PNG'),
      image('a/b.jpg'),
      image('c.png', 'data:image/png;base64,AA'),
    ] as never);
    expect(filesNamedBy(d)).toEqual([
      { kind: 'picture', path: 'C:\\Site\\Photo 1.PNG', name: 'Photo 1.PNG', places: 2 },
      { kind: 'picture', path: 'a/b.jpg', name: 'b.jpg', places: 1 },
    ]);
    expect(filesNamedBy(read(svg('<path d="M0 0h9"/>'), 'x.svg'))).toEqual([]);
  });
  it('are found among the files of a job by name, capitals aside; a drawing also in another format', () => {
    const street = { kind: 'drawing', path: 'X:/ref/STREET.dwg', name: 'STREET.dwg', places: 1 } as const;
    const photo = { kind: 'picture', path: 'p.png', name: 'p.png', places: 1 } as const;
    const files = [{ name: 'p.jpg' }, { name: 'street.dxf' }, { name: 'Street.DWG' }];
    expect(foundAmong(street, files)).toBe(files[2]);
    expect(foundAmong(street, files.slice(0, 2))).toBe(files[1]);
    expect(foundAmong(street, files.slice(0, 1))).toBeNull();
    expect(foundAmong(photo, files)).toBeNull();
  });
  it('are followed into what they refer to in turn, each once, even in a circle', () => {
    const files = [
      { name: 'street.dxf', references: ['lamp.dwg', 'C:\\x\\kerb.dwg'] },
      { name: 'LAMP.dxf', references: ['street.dwg'] },
      { name: 'kerb.dwg' },
      { name: 'nobody.dxf', references: ['kerb.dwg'] },
    ];
    expect(referencesAmong(['street.dwg', 'gone.dwg'], files).map((f) => f.name)).toEqual([
      'street.dxf',
      'kerb.dwg',
      'LAMP.dxf',
    ]);
  });
});
