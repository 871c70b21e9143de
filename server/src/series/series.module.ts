import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { BookModule } from '../book/book.module.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { SiteModule } from '../site/site.module.js';
import { BulkRoller } from './bulkRoller.js';
import { CorrectionBook } from './correctionBook.js';
import { CorrectionEntity } from './correction.entity.js';
import { Counters } from './counters.js';
import { DerivedPoints } from './derivedPoints.js';
import { Doubts } from './doubts.js';
import { DueMarks } from './dueMarks.js';
import { HistoryLoader } from './historyLoader.js';
import { IntervalBook } from './intervalBook.js';
import { Journal } from './journal.js';
import { JudgementsController } from './judgements.controller.js';
import { JudgementsService } from './judgements.service.js';
import { LineBook } from './lineBook.js';
import { MinuteRoller } from './minuteRoller.js';
import { Pages } from './pages.js';
import { ReadingsController } from './readings.controller.js';
import { ReadingsReader } from './readingsReader.js';
import { ReadingsService } from './readings.service.js';
import { RebuildEntity } from './rebuild.entity.js';
import { RebuildsService } from './rebuilds.service.js';
import { RollupWorker } from './rollupWorker.js';
import { SampleStore } from './sampleStore.js';
import { SensingEntity } from './sensing.entity.js';
import { SlotReader } from './slotReader.js';
import { VerdictBook } from './verdictBook.js';

/** Samples, what corrects them over time, gaps, rollups and increments. Everybody else asks here. */
@Module({
  imports: [
    TypeOrmModule.forFeature([CorrectionEntity, SensingEntity, RebuildEntity]),
    BookModule,
    JobsModule,
    SiteModule,
  ],
  controllers: [ReadingsController, JudgementsController],
  providers: [
    BulkRoller,
    CorrectionBook,
    Counters,
    DerivedPoints,
    Doubts,
    DueMarks,
    HistoryLoader,
    IntervalBook,
    Journal,
    JudgementsService,
    LineBook,
    MinuteRoller,
    Pages,
    ReadingsReader,
    ReadingsService,
    RebuildsService,
    RollupWorker,
    SampleStore,
    SlotReader,
    VerdictBook,
  ],
  exports: [
    CorrectionBook,
    Counters,
    DerivedPoints,
    Doubts,
    DueMarks,
    HistoryLoader,
    IntervalBook,
    Journal,
    JudgementsService,
    LineBook,
    ReadingsReader,
    ReadingsService,
    RebuildsService,
    RollupWorker,
    SampleStore,
    SlotReader,
    VerdictBook,
  ],
})
export class SeriesModule {}
