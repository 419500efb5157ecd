import { expect, test } from 'vitest';
import { paths } from '../src/api/paths';
import { jobAddress } from '../src/routes/uploads';

test('what stands in an address cannot lead elsewhere: names of files are only ever a value of it', () => {
  for (const name of ['a b&c=d.dxf', '../../x.svg', 'r#1?.dwg', 'Grundriß 2.dxf', '100 %.svg']) {
    for (const path of [paths.jobDrawings('j', name), paths.jobFonts('j', name), paths.revisions('d', name)]) {
      const url = new URL(path, 'http://host');
      expect([...url.searchParams.entries()]).toEqual([['name', name]]);
      expect(url.pathname).toMatch(/^\/api\/(jobs|drawings)\/[jd]\/\w+$/);
      expect(url.hash).toBe('');
    }
  }
});

test('pictures stand beside the drawings that name them', () => {
  expect(jobAddress('j', 'Site.PNG')).toBe('/api/jobs/j/pictures?name=Site.PNG');
  expect(jobAddress('j', 'site.jpeg')).toBe('/api/jobs/j/pictures?name=site.jpeg');
  expect(jobAddress('j', 'site.png.dxf')).toBe('/api/jobs/j/drawings?name=site.png.dxf');
});

test('no two questions share an address: answers are kept under it', () => {
  const all = Object.values(paths).map((p) =>
    typeof p === 'string' ? p : (p as (a: string, b?: string) => string)('x', undefined),
  );
  const asked = all.filter((p) => !p.includes('undefined'));
  expect(new Set(asked).size).toBe(asked.length);
});
