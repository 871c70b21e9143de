import type { Quantity } from '@loka/core/quantities';
import type { FormulaInput } from '@loka/core/virtual';
import { Column, Entity, PrimaryColumn } from 'typeorm';

/** What a virtual point is computed from; its place and conductor are its point's. */
@Entity('virtual_meters')
export class VirtualMeterEntity {
  @PrimaryColumn('int')
  pointId!: number;

  @Column('varchar')
  name!: string;

  @Column('varchar')
  formula!: string;

  @Column('simple-json')
  inputs!: FormulaInput[];

  @Column('varchar')
  quantity!: Quantity;

  @Column('int')
  intervalMs!: number;

  /** Counts its changes, so that the second of two editors is told. */
  @Column('int')
  version!: number;
}
