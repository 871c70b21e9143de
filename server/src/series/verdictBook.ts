import { judge, type Sample, type Verdict } from '@loka/core/series';
import { Injectable, OnModuleInit } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { Newest } from '../database/newest.js';

/** What people have said of readings, kept in memory because every rollup asks for it. */
@Injectable()
export class VerdictBook implements OnModuleInit {
  private readonly newest = new Newest();
  private byPoint = new Map<number, Verdict[]>();

  constructor(@InjectDataSource() private readonly db: DataSource) {}

  onModuleInit(): Promise<void> {
    return this.reload();
  }

  reload(): Promise<void> {
    return this.newest.take(
      () =>
        this.db.query('SELECT pointId, since, until, counts FROM verdicts ORDER BY id') as Promise<
          { pointId: number; since: number; until: number; counts: number }[]
        >,
      (rows) => {
        const byPoint = new Map<number, Verdict[]>();
        for (const { pointId, since, until, counts } of rows) {
          const verdict = { from: since, to: until, counts: counts === 1 };
          byPoint.set(pointId, [...(byPoint.get(pointId) ?? []), verdict]);
        }
        this.byPoint = byPoint;
      },
    );
  }

  of(pointId: number): readonly Verdict[] {
    return this.byPoint.get(pointId) ?? [];
  }

  /** Samples as they count after what people have said of them. */
  judged(pointId: number, samples: Sample[]): Sample[] {
    const verdicts = this.of(pointId);
    return verdicts.length === 0 ? samples : samples.map((sample) => judge(sample, verdicts));
  }
}
