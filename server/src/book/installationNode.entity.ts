import type { NodeKind, PowerFlow } from '@loka/core/installation';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';

@Entity('installation_nodes')
export class InstallationNodeEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int', { nullable: true })
  parentId!: number | null;

  @Column('varchar')
  kind!: NodeKind;

  @Column('varchar')
  name!: string;

  @Column('varchar')
  way!: string;

  @Column('varchar')
  phases!: string;

  @Column('varchar', { nullable: true })
  protectiveDevice!: string | null;

  @Column('double', { nullable: true })
  ratedCurrent!: number | null;

  @Column('double', { nullable: true })
  ratedPower!: number | null;

  @Column('double', { nullable: true })
  powerFactor!: number | null;

  /** Null: as its values and its name show. */
  @Column('varchar', { nullable: true })
  flow!: PowerFlow | null;

  @Column('int')
  position!: number;

  /** Counts its changes, so that of two who edit it the second is told. */
  @Column('int')
  version!: number;
}
