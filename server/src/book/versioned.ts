import type { DeepPartial, EntityManager, EntityTarget, FindOptionsWhere, ObjectLiteral } from 'typeorm';
import { ChangedMeanwhile, notFound } from '../problem/errors.js';

/** The members of a row under the names of what was sent, to be laid beside it. */
const likeSent = (row: ObjectLiteral, sent: object): Record<string, unknown> =>
  Object.fromEntries(
    Object.keys(sent)
      .filter((key) => key in row)
      .map((key) => [key, row[key] as unknown]),
  );

/**
 * Writes what was sent over a row, and counts its version up. Of two who save at the same time the second finds what
 * the first has made.
 * @param where names one row
 * @param more members that were not sent as they are written
 * @throws Problem not-found, or ChangedMeanwhile when `sent.version` is given and not the row's
 */
export async function changeVersioned<E extends ObjectLiteral & { version: number }>(
  tables: EntityManager,
  entity: EntityTarget<E>,
  where: FindOptionsWhere<E>,
  sent: { version?: number },
  { what, more = {} }: { what: string; more?: object },
): Promise<E> {
  const before = await tables.findOne(entity, { where, lock: { mode: 'pessimistic_write' } });
  if (!before) throw notFound(what, Object.values(where)[0]);
  const { version, ...values } = sent;
  if (version !== undefined && version !== before.version)
    throw new ChangedMeanwhile(what, before.version, likeSent(before, values));
  const changed = { ...values, ...more, version: before.version + 1 };
  await tables.update(entity, where, changed as never);
  return { ...before, ...(changed as DeepPartial<E>) };
}
