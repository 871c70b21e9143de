import type { Availability, MessageDefinition } from '@loka/core/messages';
import type { PointDefinition } from '@loka/core/registers';
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import { instant } from '../database/columns.js';

/** What a map says of a kind of device: registers, or messages with the topic that tells whether it is there. */
export class MapContent {
  @Column('varchar')
  name!: string;

  @Column('varchar')
  description!: string;

  @Column('simple-json')
  points!: PointDefinition[];

  @Column('simple-json')
  messages!: MessageDefinition[];

  @Column('simple-json', { nullable: true })
  availability!: Availability | null;
}

@Entity('register_maps')
export class RegisterMapEntity extends MapContent {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  version!: number;
}

/** A map as it was saved at some time. */
@Entity('register_map_versions')
export class RegisterMapVersionEntity extends MapContent {
  @PrimaryColumn('int')
  mapId!: number;

  @PrimaryColumn('int')
  version!: number;

  @Column(instant)
  at!: number;
}
