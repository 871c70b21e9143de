import { Module } from '@nestjs/common';
import { BookModule } from '../book/book.module.js';
import { DevicesModule } from '../devices/devices.module.js';
import { SeriesModule } from '../series/series.module.js';
import { AcquisitionController } from './acquisition.controller.js';
import { AcquisitionService } from './acquisition.service.js';
import { ClockWatch } from './clockWatch.js';
import { Intake } from './intake.js';
import { MovesService } from './moves.service.js';
import { PushController } from './push.controller.js';
import { SettingWire } from './settingWire.service.js';
import { WordsService } from './words.service.js';

@Module({
  imports: [DevicesModule, BookModule, SeriesModule],
  controllers: [AcquisitionController, PushController],
  providers: [AcquisitionService, ClockWatch, Intake, WordsService, MovesService, SettingWire],
  exports: [AcquisitionService, ClockWatch, Intake, SettingWire],
})
export class AcquisitionModule {}
