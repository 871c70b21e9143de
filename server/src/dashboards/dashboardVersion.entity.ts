import type { DashboardVersion } from '@loka/contract/dashboards';
import type { DashboardContent } from '@loka/core/dashboards';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

/** A dashboard as it was until it was changed. */
@Entity('dashboard_versions')
export class DashboardVersionEntity implements DashboardVersion {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  dashboardId!: number;

  @Column('varchar')
  name!: string;

  @Column('simple-json')
  content!: DashboardContent;

  @Column(instant)
  until!: number;

  @Column('varchar')
  who!: string;
}
