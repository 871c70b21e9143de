import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

@Entity('audit')
export class AuditEntryEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column(instant)
  at!: number;

  @Column('varchar')
  who!: string;

  @Column('varchar')
  action!: string;

  @Column('varchar')
  subject!: string;

  @Column('simple-json')
  detail!: unknown;

  /** Of what was removed; null of other changes. */
  @Column('varchar', { nullable: true })
  name!: string | null;
}
