import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';

/** Where the names of things are that can be removed, by the part of the address that says what they are. */
const NAMED: Readonly<Record<string, { table: string; key: string }>> = {
  installation: { table: 'installation_nodes', key: 'id' },
  links: { table: 'links', key: 'id' },
  devices: { table: 'devices', key: 'id' },
  'register-maps': { table: 'register_maps', key: 'id' },
  instruments: { table: 'instruments', key: 'id' },
  'virtual-meters': { table: 'virtual_meters', key: 'pointId' },
  switches: { table: 'switches', key: 'id' },
  'alert-rules': { table: 'alert_rules', key: 'id' },
  dashboards: { table: 'dashboards', key: 'id' },
  plans: { table: 'plans', key: 'id' },
  pictures: { table: 'pictures', key: 'id' },
};

/** The name of what a request is about to remove: once it is gone, nobody can say what it was called. */
@Injectable()
export class Removed {
  constructor(@InjectDataSource() private readonly db: DataSource) {}

  /** @returns null for a request that removes nothing with a name */
  async nameOf(method: string, path: string): Promise<string | null> {
    const [, what, id] = (method === 'DELETE' && /^\/api\/([a-z-]+)\/(\d+)$/.exec(path)) || [];
    const named = what === undefined ? undefined : NAMED[what];
    if (!named) return null;
    const found = await this.db.query<{ name: string }[]>(
      `SELECT name FROM ${named.table} WHERE ${named.key} = ?`,
      [id],
    );
    return found[0]?.name ?? null;
  }
}
