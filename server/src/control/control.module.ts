import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { AlertsModule } from '../alerts/alerts.module.js';
import { AcquisitionModule } from '../acquisition/acquisition.module.js';
import { DevicesModule } from '../devices/devices.module.js';
import { BookModule } from '../book/book.module.js';
import { SiteModule } from '../site/site.module.js';
import { ControlController } from './control.controller.js';
import { CutOffRuleEntity, SwitchOperationEntity } from './control.entity.js';
import { CutOffBasis } from './cutOffBasis.js';
import { CutOffsService } from './cutOffs.service.js';
import { CutOffWords } from './cutOffWords.js';
import { CalibrationModule } from '../calibration/calibration.module.js';
import { SeriesModule } from '../series/series.module.js';
import { LoadDrawService } from './loadDraw.service.js';
import { Lockouts } from './lockouts.js';
import { SwitchesService } from './switches.service.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([SwitchOperationEntity, CutOffRuleEntity]),
    AlertsModule,
    AcquisitionModule,
    DevicesModule,
    BookModule,
    SiteModule,
    CalibrationModule,
    SeriesModule,
  ],
  controllers: [ControlController],
  providers: [Lockouts, SwitchesService, CutOffBasis, CutOffWords, CutOffsService, LoadDrawService],
  exports: [SwitchesService, CutOffsService],
})
export class ControlModule {}
