import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant, instantOrNull } from '../database/columns.js';

/** A version of a point's correction. It is in force while neither replaced nor undone. */
@Entity('corrections')
export class CorrectionEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  pointId!: number;

  @Column('int')
  calibrationId!: number;

  @Column(instant)
  validFrom!: number;

  @Column('double')
  gain!: number;

  @Column('double')
  offset!: number;

  /** The calibration that replaced it. */
  @Column('int', { nullable: true })
  supersededBy!: number | null;

  @Column(instantOrNull)
  undoneAt!: number | null;
}
