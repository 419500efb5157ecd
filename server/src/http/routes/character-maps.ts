import { characterMap } from '../../shipped.js';
import { notFound } from '../problem.js';
import type { Route } from '../route.js';
import { sendFile } from '../sending.js';

/** The maps that tell characters of PDFs whose fonts only name one (ISO 32000-2, 9.7.5.2), for the page, which reads drawings itself. */
export function characterMapRoutes(): Route[] {
  return [
    {
      method: 'get',
      path: '/api/character-maps/{map}',
      summary: 'A map from the codes of a font in a PDF to its characters, by its name in the standard, packed',
      answer: 'bytes',
      handle: (ask) => {
        const map = characterMap(ask.params['map']!);
        if (!map) throw notFound('map');
        sendFile(ask, map, `${ask.params['map']!}.bcmap`, 'application/octet-stream');
        return Promise.resolve();
      },
    },
  ];
}
