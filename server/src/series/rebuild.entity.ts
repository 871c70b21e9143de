import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

/** A stretch of a point that has to be recalculated: rolled up, and computed where it is derived; `done` says how far it has come. */
@Entity('rebuilds')
export class RebuildEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  pointId!: number;

  /** The calibration that called for it. */
  @Column('int', { nullable: true })
  calibrationId!: number | null;

  @Column(instant)
  start!: number;

  @Column(instant)
  end!: number;

  @Column(instant)
  done!: number;
}
