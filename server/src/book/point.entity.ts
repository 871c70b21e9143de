import type { AnyDefinition } from '@loka/core/definitions';
import type { Phase } from '@loka/core/quantities';
import { Column, Entity, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm';
import { instant, instantOrNull } from '../database/columns.js';

@Entity('points')
export class PointEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  /** Null for a virtual meter. */
  @Column('int', { nullable: true })
  deviceId!: number | null;

  /** The key of its definition in the device's map. */
  @Column('varchar')
  key!: string;

  @Column('int', { nullable: true })
  nodeId!: number | null;

  @Column('varchar', { nullable: true })
  phase!: Phase | null;

  /** One more than the largest reading of a counter, where somebody has set it, base unit. */
  @Column('double', { nullable: true })
  counterModulus!: number | null;

  /** One count of a counter, where somebody has set it, base unit. */
  @Column('double', { nullable: true })
  counterResolution!: number | null;

  /** The largest power that can be behind a counter, where somebody has set it, W. */
  @Column('double', { nullable: true })
  largestPower!: number | null;

  /** As what kind of quantity its past has been worked out; null of a virtual meter. */
  @Column('varchar', { nullable: true })
  kind!: string | null;

  /** No longer in the map, or its device is gone; its readings stay. */
  @Column(instantOrNull)
  removedAt!: number | null;

  /** What it was when it was taken out of its map; null of one that was not. */
  @Column('simple-json', { nullable: true })
  lastDefinition!: AnyDefinition | null;
}

/** At which interval a point was recorded, from an instant on: tells a gap from a slow point, in the past too. */
@Entity('point_intervals')
export class PointIntervalEntity {
  @PrimaryColumn('int')
  pointId!: number;

  @PrimaryColumn(instant)
  validFrom!: number;

  @Column('int')
  intervalMs!: number;
}
