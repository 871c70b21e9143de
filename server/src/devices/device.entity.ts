import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instantOrNull } from '../database/columns.js';

@Entity('devices')
export class DeviceEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  linkId!: number;

  @Column('int')
  mapId!: number;

  @Column('varchar')
  name!: string;

  @Column('int')
  unit!: number;

  /** Taken off the site; its readings stay. */
  @Column(instantOrNull)
  removedAt!: number | null;
}
