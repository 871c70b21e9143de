import type { FastLookTrace } from '@loka/contract/fastLook';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

/** A recorded fast look. */
@Entity('fast_looks')
export class FastLookEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  nodeId!: number;

  @Column('varchar')
  deviceName!: string;

  @Column(instant)
  startedAt!: number;

  @Column(instant)
  endedAt!: number;

  @Column('varchar')
  who!: string;

  @Column('varchar', { nullable: true })
  trouble!: string | null;

  @Column('simple-json')
  traces!: FastLookTrace[];
}
