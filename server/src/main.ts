import { readConfig } from './config.js';
import { CannotStart } from './data-folder.js';
import { loadDemo } from './demo.js';
import { startServer } from './server.js';

// A mistake in one task must not end all others; what was kept is safe either way.
process.on('unhandledRejection', (e) => console.error('Something went wrong unheard:', e));

try {
  const server = await startServer(readConfig(process.env));
  const demo = process.env['SCALARIA_DEMO'];
  if (demo && (await loadDemo(server.context, demo))) console.log('The demo job "Kestrel Row tram stop" was loaded.');
  console.log(`Scalaria is ready at ${server.address}`);
  const stop = (): void => void server.close().then(() => process.exit(0));
  process.once('SIGINT', stop);
  process.once('SIGTERM', stop);
} catch (e) {
  console.error(e instanceof CannotStart ? e.message : e);
  process.exit(1);
}
