import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { AcquisitionModule } from '../acquisition/acquisition.module.js';
import { BookModule } from '../book/book.module.js';
import { VerifyModule } from '../verify/verify.module.js';
import { SettingChangeEntity } from './settingChange.entity.js';
import { SettingHistory } from './settingHistory.service.js';
import { SettingsController } from './settings.controller.js';
import { SettingsService } from './settings.service.js';
import { SettingsWatch } from './settingsWatch.js';

@Module({
  imports: [TypeOrmModule.forFeature([SettingChangeEntity]), AcquisitionModule, BookModule, VerifyModule],
  controllers: [SettingsController],
  providers: [SettingHistory, SettingsService, SettingsWatch],
})
export class SettingsModule {}
