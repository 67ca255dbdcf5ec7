/**
 * Texts of a damaged database that are no texts any more. The driver ends the whole process where it is given one, so they are
 * looked for as bytes before anything is read.
 */
import { type Client, LibsqlError } from '@libsql/client';
import { getTableConfig, type SQLiteTable } from 'drizzle-orm/sqlite-core';
import { arrangements, journal, snapshots } from './schema.js';

/** A row with such texts, by its table and row number, and the columns that hold them. */
interface BrokenRow {
  readonly table: string;
  readonly row: number;
  readonly columns: readonly string[];
}

const TABLES: readonly SQLiteTable[] = [arrangements, snapshots, journal];
/** Rows looked at in one go. */
const AT_ONCE = 2000;

const isText = (value: unknown): boolean => {
  if (!(value instanceof ArrayBuffer) && !ArrayBuffer.isView(value)) return true;
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(value as ArrayBuffer);
    return true;
  } catch {
    return false;
  }
};

/** All rows of one table; those on pages that cannot be read at all are passed over by SQLite's own error. */
const brokenIn = async (client: Client, table: SQLiteTable): Promise<readonly BrokenRow[]> => {
  const { name, columns } = getTableConfig(table);
  const there = await client.execute(`select name from pragma_table_info('${name}')`);
  const known = new Set(there.rows.map((row) => String(row.name)));
  const texts = columns.filter((column) => column.getSQLType() === 'text' && known.has(column.name));
  // A new database, or one from before there was this table.
  if (texts.length === 0) return [];
  const asked = texts.map((column) => `cast("${column.name}" as blob) as "${column.name}"`).join(', ');
  const found: BrokenRow[] = [];
  for (let after = -1; ; ) {
    const { rows } = await client.execute({
      sql: `select rowid as "row", ${asked} from "${name}" where rowid > ? order by rowid limit ${AT_ONCE}`,
      args: [after],
    });
    for (const row of rows) {
      const broken = texts.filter((column) => !isText(row[column.name])).map((column) => column.name);
      if (broken.length > 0) found.push({ table: name, row: Number(row.row), columns: broken });
    }
    const last = rows[rows.length - 1];
    if (!last || rows.length < AT_ONCE) return found;
    after = Number(last.row);
  }
};

/** The rows of all tables that hold such texts. Throws what SQLite says where a table cannot be read. */
export const brokenTexts = async (client: Client): Promise<readonly BrokenRow[]> =>
  (await Promise.all(TABLES.map((table) => brokenIn(client, table)))).flat();

/** Empties such texts, in a copy of a damaged database: what is empty is known as lost, and the rest can be read. */
export const emptyBrokenTexts = async (client: Client): Promise<void> => {
  for (const table of TABLES) {
    try {
      for (const { table: name, row, columns } of await brokenIn(client, table)) {
        const emptied = columns.map((column) => `"${column}" = ''`).join(', ');
        await client.execute({ sql: `update "${name}" set ${emptied} where rowid = ?`, args: [row] });
      }
    } catch (error) {
      // A page that is no page: reading it later says so in its own way, and ends nothing.
      if (!(error instanceof LibsqlError)) throw error;
    }
  }
};
