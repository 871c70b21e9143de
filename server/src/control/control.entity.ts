import type { OperationCause, SwitchOperation } from '@loka/contract/control';
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import { instant, instantOrNull } from '../database/columns.js';

@Entity('switch_operations')
export class SwitchOperationEntity implements SwitchOperation {
  @PrimaryColumn('char', { length: 36 })
  id!: string;

  @Column('int')
  switchId!: number;

  @Column('varchar')
  switchName!: string;

  @Column(instant)
  at!: number;

  @Column('boolean')
  closed!: boolean;

  @Column('varchar')
  cause!: OperationCause;

  @Column('varchar')
  who!: string;

  @Column('varchar')
  reason!: string;

  @Column('varchar')
  outcome!: SwitchOperation['outcome'];

  @Column(instantOrNull)
  outcomeAt!: number | null;

  @Column('varchar', { nullable: true })
  message!: string | null;
}

@Entity('cut_off_rules')
export class CutOffRuleEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  switchId!: number;

  @Column('int')
  pointId!: number;

  @Column('double')
  limit!: number;

  @Column('int')
  delayMs!: number;

  @Column('int')
  ignoreAfterOnMs!: number;

  @Column('int')
  blindAfterMs!: number;

  @Column('boolean')
  openWhenBlind!: boolean;

  @Column('boolean')
  enabled!: boolean;

  @Column(instantOrNull)
  trippedAt!: number | null;

  @Column('double', { nullable: true })
  trippedValue!: number | null;

  @Column(instantOrNull)
  removedAt!: number | null;

  /** Counts its changes, so that the second of two editors is told. */
  @Column('int')
  version!: number;
}
