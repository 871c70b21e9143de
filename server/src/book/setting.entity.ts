import { Column, Entity, PrimaryColumn } from 'typeorm';
import { instantOrNull } from '../database/columns.js';

/** What stands in a device as a setting, and what is wanted of it. Base units. */
@Entity('device_settings')
export class SettingEntity {
  @PrimaryColumn('int')
  pointId!: number;

  @Column({ type: 'double', nullable: true })
  wanted!: number | null;

  @Column({ type: 'double', nullable: true })
  value!: number | null;

  @Column(instantOrNull)
  readAt!: number | null;

  /** What it was before it was seen to change. */
  @Column({ type: 'double', nullable: true })
  before!: number | null;

  @Column(instantOrNull)
  changedAt!: number | null;
}
