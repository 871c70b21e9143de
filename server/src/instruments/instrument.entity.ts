import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instantOrNull } from '../database/columns.js';

/** A reference instrument of the site. */
@Entity('instruments')
export class InstrumentEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column()
  name!: string;

  @Column()
  serial!: string;

  @Column('double')
  percent!: number;

  @Column()
  certificate!: string;

  /** A day as 2026-03-31. */
  @Column('varchar', { nullable: true })
  calibratedOn!: string | null;

  @Column('varchar', { nullable: true })
  dueOn!: string | null;

  @Column('int')
  version!: number;

  @Column(instantOrNull)
  removedAt!: number | null;
}
