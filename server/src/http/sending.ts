import type { Ask } from './route.js';

/** Says that what follows is to be saved under a name, and is nothing to be run. */
export function attached({ response }: Pick<Ask, 'response'>, name: string, type: string): void {
  response.setHeader('Content-Type', type);
  response.setHeader('Content-Disposition', `attachment; filename*=UTF-8''${encodeURIComponent(name)}`);
  response.setHeader('X-Content-Type-Options', 'nosniff');
}

/** Sends stored bytes as a download that no browser will run. */
export function sendFile(ask: Ask, bytes: Uint8Array, name: string, type: string): void {
  attached(ask, name, type === 'image/svg+xml' ? 'application/octet-stream' : type);
  ask.response.end(bytes);
}

/** Sends a page that was made here: without scripts, and with nothing that is fetched. */
export function sendPage({ response }: Ask, html: string): void {
  response.setHeader('Content-Type', 'text/html; charset=utf-8');
  response.end(html);
}
