import type { FittingKind } from '@loka/contract/fittings';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

/** What happened to what measures a place: devices, transducers, settings, wiring. Lines are added, never changed. */
@Entity('fittings')
export class FittingEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  nodeId!: number;

  @Column(instant)
  at!: number;

  @Column(instant)
  enteredAt!: number;

  @Column('varchar')
  who!: string;

  @Column('varchar')
  kind!: FittingKind;

  @Column('varchar')
  says!: string;
}
