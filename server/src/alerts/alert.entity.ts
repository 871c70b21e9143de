import type { AlertKind } from '@loka/contract/alerts';
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import { instant, instantOrNull } from '../database/columns.js';

@Entity('alert_rules')
export class AlertRuleEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('varchar')
  name!: string;

  @Column('int')
  pointId!: number;

  @Column('varchar')
  direction!: 'above' | 'below';

  @Column('double')
  limit!: number;

  @Column('double')
  deadband!: number;

  @Column('int')
  onDelayMs!: number;

  @Column('int')
  offDelayMs!: number;

  @Column('boolean')
  enabled!: boolean;

  @Column(instantOrNull)
  removedAt!: number | null;

  /** Counts its changes, so that the second of two editors is told. */
  @Column('int')
  version!: number;
}

/** One occurrence of an alert. */
@Entity('alerts')
export class AlertEntity {
  @PrimaryColumn('char', { length: 36 })
  id!: string;

  @Column('varchar')
  kind!: AlertKind;

  /** What raises it where that is no rule, as it names itself. */
  @Column('varchar', { nullable: true })
  source!: string | null;

  @Column('int', { nullable: true })
  ruleId!: number | null;

  @Column('int', { nullable: true })
  pointId!: number | null;

  @Column('varchar')
  name!: string;

  @Column('varchar')
  condition!: string;

  @Column(instant)
  raisedAt!: number;

  @Column('double', { nullable: true })
  value!: number | null;

  @Column(instantOrNull)
  returnedAt!: number | null;

  @Column(instantOrNull)
  acknowledgedAt!: number | null;

  @Column('varchar', { nullable: true })
  acknowledgedBy!: string | null;
}
