import type { Clearing, TotalKind } from '@loka/contract/totals';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

@Entity('total_clearings')
export class ClearingEntity implements Clearing {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  nodeId!: number;

  @Column('varchar')
  kind!: TotalKind;

  @Column(instant)
  at!: number;

  @Column('varchar')
  who!: string;

  @Column('double', { nullable: true })
  stood!: number | null;
}
