import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

/** Rollups that have to be worked out anew after a correction; `done` says how far it has come. */
@Entity('rebuilds')
export class RebuildEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  pointId!: number;

  @Column('int')
  calibrationId!: number;

  @Column(instant)
  start!: number;

  @Column(instant)
  end!: number;

  @Column(instant)
  done!: number;
}
