import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';

@Entity('links')
export class LinkEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('varchar')
  name!: string;

  @Column('varchar')
  host!: string;

  @Column('int')
  port!: number;

  @Column('int')
  timeoutMs!: number;

  @Column('boolean')
  enabled!: boolean;
}
