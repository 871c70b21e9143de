import type { EnergyReport, KeptReport } from '@loka/contract/report';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant, instantOrNull } from '../database/columns.js';

@Entity('kept_reports')
export class KeptReportEntity implements KeptReport {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  nodeId!: number;

  @Column('varchar')
  place!: string;

  @Column('varchar')
  period!: string;

  @Column({ ...instant, name: 'fromAt' })
  from!: number;

  @Column({ ...instant, name: 'toAt' })
  to!: number;

  @Column(instant)
  madeAt!: number;

  @Column('varchar', { nullable: true })
  who!: string | null;

  /** The month of which it was made by itself: one each, also where somebody has taken it away. */
  @Column('varchar', { nullable: true })
  monthly!: string | null;

  @Column(instantOrNull)
  removedAt!: number | null;

  @Column('simple-json', { select: false })
  content!: EnergyReport;
}
