import type { Knot } from '@loka/core/series';
import type { CalibrationPoint } from '@loka/contract/calibration';
import type { Fit } from '@loka/core/calibration';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant, instantOrNull } from '../database/columns.js';

/** A calibration that was made: its evidence and the correction that came of it. */
@Entity('calibrations')
export class CalibrationEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  pointId!: number;

  @Column(instant)
  madeAt!: number;

  @Column(instant)
  validFrom!: number;

  @Column('double')
  gain!: number;

  @Column('double')
  offset!: number;

  /** Where it bends; null where it is straight. */
  @Column('simple-json', { nullable: true })
  knots!: Knot[] | null;

  /** Nearer to zero than this nothing flows, base unit; null where all counts. */
  @Column('double', { nullable: true })
  noLoad!: number | null;

  /** Null of one that was made before Loka computed how certain it is. */
  @Column('simple-json', { nullable: true })
  fit!: Fit | null;

  @Column('simple-json')
  evidence!: CalibrationPoint[];

  /** Minutes by which the transducer displaces the phase, for a power. */
  @Column('double', { nullable: true })
  displacement!: number | null;

  @Column()
  who!: string;

  @Column(instantOrNull)
  dueAt!: number | null;

  /** The calibration of a like device that it was copied from. */
  @Column('int', { nullable: true })
  copiedFrom!: number | null;

  @Column('int', { nullable: true })
  powerPointId!: number | null;
}
