import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instantOrNull } from '../database/columns.js';

/** A contact that Loka operates, and where its state is read back. */
@Entity('switches')
export class SwitchEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('varchar')
  name!: string;

  @Column('int')
  nodeId!: number;

  @Column('int')
  commandPointId!: number;

  @Column('int')
  statePointId!: number;

  @Column('int')
  timeoutMs!: number;

  @Column(instantOrNull)
  removedAt!: number | null;

  /** Counts its changes, so that the second of two editors is told. */
  @Column('int')
  version!: number;
}
