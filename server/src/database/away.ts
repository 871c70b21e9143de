/** Codes that say that the database cannot take anything now, and not that it refuses what it was given. */
const AWAY =
  /^(ECONN|EPIPE|ETIMEDOUT|EHOST|ENETUNREACH|PROTOCOL_|POOL_CLOSED|ENOENT|ER_SERVER_SHUTDOWN|ER_CON_COUNT|ER_LOCK_WAIT_TIMEOUT|ER_LOCK_DEADLOCK|ER_DISK_FULL|ER_RECORD_FILE_FULL|ER_OPTION_PREVENTS_STATEMENT|ER_READ_ONLY|ER_CANT_EXECUTE_IN_READ_ONLY|ER_TRANS_CACHE_FULL|ER_GET_ERRNO|ER_ERROR_ON_WRITE|ER_QUERY_INTERRUPTED|ER_STATEMENT_TIMEOUT|ER_NEW_ABORTING_CONNECTION|ER_CONNECTION_KILLED|ER_OUTOFMEMORY|ER_OUT_OF_RESOURCES|ER_ACCESS_DENIED|ER_DBACCESS_DENIED)/;

/** The code of a database error, as the driver or TypeORM around it carries it; '' without one. */
export const databaseCode = (error: unknown): string =>
  (error as { driverError?: { code?: string } } | null)?.driverError?.code ??
  (error as { code?: string } | null)?.code ??
  '';

/** Whether an error says that the database cannot be reached, or cannot write, now. */
export const isDatabaseAway = (error: unknown): boolean => AWAY.test(databaseCode(error));
