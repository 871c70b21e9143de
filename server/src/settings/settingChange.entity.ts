import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

/** A setting that was written into a device: what it was, what was sent, and what was read back. Base units. */
@Entity('setting_changes')
export class SettingChangeEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  deviceId!: number;

  @Column('int')
  pointId!: number;

  @Column(instant)
  at!: number;

  @Column('varchar')
  who!: string;

  @Column('double')
  before!: number;

  @Column('double')
  value!: number;

  @Column({ type: 'double', nullable: true })
  after!: number | null;
}
