import type { ZoneChange } from '@loka/contract/site';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

/** The site got another time zone: its days before that were others than they are now. */
@Entity('zone_changes')
export class ZoneChangeEntity implements ZoneChange {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column(instant)
  at!: number;

  @Column('varchar')
  zoneBefore!: string;

  @Column('varchar')
  zoneAfter!: string;
}
