import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { AlertsModule } from '../alerts/alerts.module.js';
import { BookModule } from '../book/book.module.js';
import { ControlModule } from '../control/control.module.js';
import { SensingModule } from '../sensing/sensing.module.js';
import { SeriesModule } from '../series/series.module.js';
import { SiteModule } from '../site/site.module.js';
import { OutputsController } from './outputs.controller.js';
import { OutputsService } from './outputs.service.js';
import { OutputTrialEntity } from './outputTrial.entity.js';
import { DeviceLook } from './deviceLook.js';
import { LookBuilder } from './lookBuilder.js';
import { PastService } from './past.service.js';
import { RecentReadings } from './recentReadings.js';
import { StepTestsService } from './stepTests.service.js';
import { VerificationsService } from './verifications.service.js';
import { VerifyController } from './verify.controller.js';
import { StepTestEntity, VerificationEntity, WiringFaultEntity } from './verify.entity.js';
import { WiringWatch } from './wiringWatch.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([StepTestEntity, VerificationEntity, WiringFaultEntity, OutputTrialEntity]),
    AlertsModule,
    BookModule,
    ControlModule,
    SensingModule,
    SeriesModule,
    SiteModule,
  ],
  controllers: [VerifyController, OutputsController],
  providers: [
    RecentReadings,
    DeviceLook,
    LookBuilder,
    StepTestsService,
    PastService,
    WiringWatch,
    VerificationsService,
    OutputsService,
  ],
  exports: [VerificationsService, StepTestsService, OutputsService],
})
export class VerifyModule {}
