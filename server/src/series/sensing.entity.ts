import type { AccuracyClass, HallSignal, Sensing, Transducer } from '@loka/core/sensing';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

const truth = { from: (value: unknown) => Boolean(value), to: (value: boolean) => value };

/** What sits before the meter at a point, from an instant on. */
@Entity('sensings')
export class SensingEntity implements Sensing {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  pointId!: number;

  @Column(instant)
  validFrom!: number;

  @Column('double')
  ratio!: number;

  @Column('int')
  turns!: number;

  @Column('tinyint', { transformer: truth })
  reversed!: boolean;

  @Column('double', { nullable: true })
  burden!: number | null;

  @Column('double', { nullable: true })
  nominalVoltage!: number | null;

  @Column('varchar', { nullable: true })
  kind!: Transducer | null;

  @Column('double', { nullable: true })
  ratedCurrent!: number | null;

  @Column('varchar', { nullable: true })
  accuracyClass!: AccuracyClass | null;

  @Column('varchar', { nullable: true })
  signal!: HallSignal | null;

  @Column('varchar')
  who!: string;

  @Column(instant)
  at!: number;
}
