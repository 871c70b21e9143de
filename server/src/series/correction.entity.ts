import type { Knot } from '@loka/core/series';
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

  /** Where it bends; null where it is straight. */
  @Column('simple-json', { nullable: true })
  knots!: Knot[] | null;

  /** Nearer to zero than this nothing flows, base unit; null where all counts. */
  @Column('double', { nullable: true })
  noLoad!: number | null;

  /** Minutes by which the transducer displaces the phase, for a power; null where nothing is said of it. */
  @Column('double', { nullable: true })
  displacement!: number | null;

  /** The calibration that replaced it. */
  @Column('int', { nullable: true })
  supersededBy!: number | null;

  @Column(instantOrNull)
  undoneAt!: number | null;
}
