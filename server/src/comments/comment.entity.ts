import type { Comment } from '@loka/contract/comments';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

@Entity('comments')
export class CommentEntity implements Comment {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  nodeId!: number;

  @Column(instant)
  t!: number;

  @Column('varchar')
  text!: string;

  @Column('varchar')
  who!: string;

  @Column(instant)
  writtenAt!: number;

  /** Counts its changes, so that the second of two editors is told. */
  @Column('int')
  version!: number;
}
