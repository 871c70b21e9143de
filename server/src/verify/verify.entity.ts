import type { RecordKind, StepAsked } from '@loka/contract/verify';
import type { Check, Fault } from '@loka/core/verify';
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import { instant, instantOrNull } from '../database/columns.js';

/** A step test, under way or ended. */
@Entity('step_tests')
export class StepTestEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  nodeId!: number;

  @Column(instant)
  startedAt!: number;

  @Column(instantOrNull)
  endedAt!: number | null;

  @Column('varchar')
  who!: string;

  @Column('simple-json')
  steps!: StepAsked[];
}

/** A verification that somebody has recorded. */
@Entity('verifications')
export class VerificationEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  nodeId!: number;

  @Column(instant)
  at!: number;

  @Column('varchar')
  who!: string;

  @Column('varchar')
  kind!: RecordKind;

  @Column('tinyint', {
    transformer: { from: (value: unknown) => Boolean(value), to: (value: boolean) => value },
  })
  proven!: boolean;

  @Column('simple-json')
  checks!: Check[];

  @Column('simple-json')
  faults!: Fault[];

  @Column('varchar')
  past!: string;
}

/** What the background has found at a place and nothing has disproved since. */
@Entity('wiring_faults')
export class WiringFaultEntity {
  @PrimaryColumn('int')
  nodeId!: number;

  /** The check that failed: it has to pass before the fault is gone. */
  @Column('varchar')
  checkKind!: Check['kind'];

  @Column('varchar')
  says!: string;

  @Column(instant)
  since!: number;
}
