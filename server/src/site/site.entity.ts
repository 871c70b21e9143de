import type { SupplySystem } from '@loka/core/installation';
import type { ConductorScheme } from '@loka/contract/site';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';

@Entity('sites')
export class SiteEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('varchar')
  name!: string;

  @Column('varchar')
  timeZone!: string;

  @Column('double')
  nominalVoltage!: number;

  @Column('int')
  frequency!: number;

  @Column('varchar')
  supplySystem!: SupplySystem;

  @Column('varchar')
  conductorScheme!: ConductorScheme;

  /** ISO 4217. */
  @Column('varchar')
  currency!: string;

  /** Of a kilowatt-hour from the supply; null where nobody has said. */
  @Column('double', { nullable: true })
  price!: number | null;

  /** Grams of CO₂ of a kilowatt-hour from the supply; null where nobody has said. */
  @Column('double', { nullable: true })
  carbon!: number | null;

  /** The point that measures the temperature outside; null where none does. */
  @Column('int', { nullable: true })
  outdoorPointId!: number | null;

  /** Days of the week on which it is closed, 1 is Monday. */
  @Column('simple-json')
  closedDays!: number[];

  /** Further days on which it is closed, as 2026-12-25. */
  @Column('simple-json')
  holidays!: string[];

  /** Counts its changes, so that the second of two editors is told. */
  @Column('int')
  version!: number;
}
