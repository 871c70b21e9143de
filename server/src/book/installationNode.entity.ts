import type { NodeKind, PowerFlow, Purpose } from '@loka/core/installation';
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

  /** Null: as its name and its values show. */
  @Column('varchar', { nullable: true })
  purpose!: Purpose | null;

  /** Wh that a storage holds; null where nobody has said. */
  @Column('double', { nullable: true })
  storageCapacity!: number | null;

  @Column('int')
  position!: number;

  /** Counts its changes, so that the second of two editors is told. */
  @Column('int')
  version!: number;
}
