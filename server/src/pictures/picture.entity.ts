import type { Picture, PictureType } from '@loka/contract/pictures';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

@Entity('pictures')
export class PictureEntity implements Picture {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('varchar')
  name!: string;

  @Column('varchar')
  type!: PictureType;

  @Column('double')
  width!: number;

  @Column('double')
  height!: number;

  @Column('int')
  bytes!: number;

  @Column('char', { length: 64 })
  hash!: string;

  /** Megabytes: read only where it is sent. */
  @Column('mediumblob', { select: false })
  content!: Buffer;

  @Column(instant)
  addedAt!: number;

  @Column('varchar')
  who!: string;
}
