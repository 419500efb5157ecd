import { describe, expect, it } from 'vitest';
import type { Drawing, Entity } from '../../src/index.js';
import { NO_DECISIONS, dataAddress, deliver, prepare, targetFor } from '../../src/index.js';
import { namedPictures } from '../../src/delivery/named-pictures.js';
import { packedPng } from '../../src/formats/picture/png.js';
import { drawingOf, fonts } from '../helpers.js';

const pixel = (grey: number): Uint8Array =>
  packedPng({ width: 2, height: 2, channels: 1, data: new Uint8Array(4).fill(grey) });
const image = (file: string | undefined, grey: number | null = 7, more: object = {}) =>
  ({
    ...{ kind: 'image', cover: false, at: [0, 0, 0], u: [1, 0, 0], v: [0, 1, 0], pixels: [2, 2] },
    ...(file !== undefined && { file }),
    ...(grey !== null && { data: dataAddress('image/png', pixel(grey)) }),
    ...more,
  }) as unknown as Omit<Entity, 'id' | 'layer' | 'look'> & { kind: string };
const namesIn = (d: Drawing): string[] => namedPictures(d).map((p) => p.name);

describe('pictures that a file names', () => {
  it('go along where the name alone finds them, with their very bytes', () => {
    const d = drawingOf([image('site.png', 7), image('./plan.JPG', 9), image('.\\under way.jpeg', 11)]);
    expect(namesIn(d)).toEqual(['plan.JPG', 'site.png', 'under way.jpeg']);
    expect(namedPictures(d)[1]!.data).toBe(dataAddress('image/png', pixel(7)));
  });

  it('stay out where the name leads anywhere else, or is none', () => {
    for (const file of [
      ...['../site.png', '..\\site.png', '/site.png', 'C:\\site.png', 'c:site.png', 'maps/site.png', '~/../x.png'],
      ...[
        '.',
        '..',
        '.png',
        'site.png/',
        'site.exe',
        'site.png\0.exe',
        'a\nb.png',
        'https://kestrel.test/a.png',
        'a?.png',
      ],
      ...['site.png.', 'site.png ', 'picture in the file (png)', ' .png', undefined],
    ])
      expect(namesIn(drawingOf([image(file)])), String(file)).toEqual([]);
    // A cover is no picture, and one that is not at hand cannot go.
    expect(namesIn(drawingOf([image('a.png', 7, { cover: true }), image('b.png', null)]))).toEqual([]);
  });

  it('go once however often they are named, in blocks too, capitals aside', () => {
    const d = drawingOf([image('site.png'), image('SITE.png'), image('site.png')]);
    const inner = drawingOf([image('inner.png'), image('site.png')]).entities;
    d.blocks = new Map([['b', { name: 'b', base: [0, 0, 0], entities: inner }]]) as unknown as typeof d.blocks;
    expect(namesIn(d)).toEqual(['inner.png', 'site.png']);
  });

  it('go with drafting files alone: others hold them', () => {
    const d = drawingOf([image('site.png')]);
    const { drawing } = prepare(d, { ...NO_DECISIONS, unit: 'mm' }, []);
    const along = (format: 'dxf' | 'dwg' | 'svg' | 'pdf'): string[] =>
      deliver(drawing, targetFor(format), 'a', fonts()).along.map((p) => p.name);
    expect([along('dxf'), along('dwg'), along('svg'), along('pdf')]).toEqual([['site.png'], ['site.png'], [], []]);
  });
});
