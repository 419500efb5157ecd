import { fileURLToPath } from 'node:url';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import { drizzle as drizzlePglite } from 'drizzle-orm/pglite';
import { migrate as migratePglite } from 'drizzle-orm/pglite/migrator';
import { drizzle as drizzlePg } from 'drizzle-orm/node-postgres';
import { migrate as migratePg } from 'drizzle-orm/node-postgres/migrator';
import type { PgDatabase, PgQueryResultHKT } from 'drizzle-orm/pg-core';
import pg from 'pg';
import * as schema from './schema.js';

const MIGRATIONS = fileURLToPath(new URL('../../migrations', import.meta.url));

/** The database, whichever engine stands behind it. */
export interface Database {
  db: PgDatabase<PgQueryResultHKT, typeof schema>;
  close: () => Promise<void>;
}

/** Opens (and migrates) the embedded database in `folder`, or the server at `url`. */
export async function openDatabase(folder: string, url: string | undefined): Promise<Database> {
  return url ? openServer(url) : openEmbedded(join(folder, 'database'));
}

async function openEmbedded(folder: string): Promise<Database> {
  mkdirSync(folder, { recursive: true });
  const client = await PGlite.create(folder);
  const db = drizzlePglite(client, { schema });
  await migratePglite(db, { migrationsFolder: MIGRATIONS });
  return {
    db: db as unknown as Database['db'],
    close: () => client.close(),
  };
}

async function openServer(url: string): Promise<Database> {
  const pool = new pg.Pool({ connectionString: url });
  // A connection that breaks while nobody uses it is made anew when it is needed; unheard, it would end the process.
  pool.on('error', () => {});
  const db = drizzlePg(pool, { schema });
  await migratePg(db, { migrationsFolder: MIGRATIONS });
  return {
    db: db as unknown as Database['db'],
    close: () => pool.end(),
  };
}
