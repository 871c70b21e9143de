import type { OutputVerdict } from '@loka/core/verify';
import { Column, Entity, PrimaryGeneratedColumn } from 'typeorm';
import { instant, instantOrNull } from '../database/columns.js';

/** A relay that was operated briefly: in the database before it moves, so that a restart does not forget how it stood. */
@Entity('output_trials')
export class OutputTrialEntity {
  @PrimaryGeneratedColumn()
  id!: number;

  @Column('int')
  switchId!: number;

  @Column(instant)
  startedAt!: number;

  @Column('varchar')
  who!: string;

  @Column('tinyint', {
    transformer: { from: (value: unknown) => Boolean(value), to: (value: boolean) => value },
  })
  closedBefore!: boolean;

  @Column(instantOrNull)
  backAt!: number | null;

  @Column(instantOrNull)
  endedAt!: number | null;

  @Column({ type: 'simple-json', nullable: true })
  result!: OutputVerdict | null;

  @Column('varchar')
  trouble!: string;
}
