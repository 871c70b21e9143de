import type { Access, PointBasics } from '@loka/core/points';

/** A row with another access. A setting says what it sets; of all others that says nothing. */
export function withAccess<T extends PointBasics>(row: T, access: Access): T {
  const { setting = 'other', ...rest } = row;
  return (access === 'setting' ? { ...rest, access, setting } : { ...rest, access }) as T;
}
