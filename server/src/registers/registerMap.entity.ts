import type { PointDefinition } from '@loka/core/registers';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';

@Entity('register_maps')
export class RegisterMapEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('varchar')
  name!: string;

  @Column('varchar')
  description!: string;

  @Column('simple-json')
  points!: PointDefinition[];
}
