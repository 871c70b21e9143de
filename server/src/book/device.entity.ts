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

  /** Base topic of a device that reports by messages; '' for one with registers. */
  @Column('varchar')
  topic!: string;

  /** Removed from the site; its readings stay. */
  @Column(instantOrNull)
  removedAt!: number | null;

  /** Counts its changes, so that the second of two editors is told. */
  @Column('int')
  version!: number;
}
