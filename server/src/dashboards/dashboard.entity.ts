import type { Dashboard } from '@loka/contract/dashboards';
import type { DashboardContent } from '@loka/core/dashboards';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

@Entity('dashboards')
export class DashboardEntity implements Dashboard {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('varchar')
  name!: string;

  @Column('simple-json')
  content!: DashboardContent;

  /** Counts its changes, so that the second of two editors is told. */
  @Column('int')
  version!: number;

  @Column(instant)
  changedAt!: number;

  @Column('varchar')
  who!: string;
}
