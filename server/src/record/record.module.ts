import { Module } from '@nestjs/common';
import { BookModule } from '../book/book.module.js';
import { CalibrationModule } from '../calibration/calibration.module.js';
import { InstallationModule } from '../installation/installation.module.js';
import { InstrumentsModule } from '../instruments/instruments.module.js';
import { SeriesModule } from '../series/series.module.js';
import { SiteModule } from '../site/site.module.js';
import { VerifyModule } from '../verify/verify.module.js';
import { PdfPress } from './pdfPress.js';
import { RecordController } from './record.controller.js';
import { RecordService } from './record.service.js';

@Module({
  imports: [
    BookModule,
    CalibrationModule,
    InstallationModule,
    InstrumentsModule,
    SeriesModule,
    SiteModule,
    VerifyModule,
  ],
  controllers: [RecordController],
  providers: [RecordService, PdfPress],
})
export class RecordModule {}
