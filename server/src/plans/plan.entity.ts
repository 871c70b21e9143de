import type { Plan } from '@loka/contract/plans';
import type { PlanContent } from '@loka/core/plans';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

@Entity('plans')
export class PlanEntity implements Plan {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('varchar')
  name!: string;

  @Column('simple-json')
  content!: PlanContent;

  /** Counts its changes, so that the second of two editors is told. */
  @Column('int')
  version!: number;

  @Column(instant)
  changedAt!: number;

  @Column('varchar')
  who!: string;
}
