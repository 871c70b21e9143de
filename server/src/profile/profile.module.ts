import { Module } from '@nestjs/common';
import { BookModule } from '../book/book.module.js';
import { SeriesModule } from '../series/series.module.js';
import { SiteModule } from '../site/site.module.js';
import { BackupService } from './backup.service.js';
import { EnergyModule } from '../energy/energy.module.js';
import { CountedPower } from './countedPower.js';
import { VerifyModule } from '../verify/verify.module.js';
import { DurationService } from './duration.service.js';
import { PhasesService } from './phases.service.js';
import { PlacePower } from './placePower.js';
import { ProfileController } from './profile.controller.js';
import { ProfileThread } from './profileThread.js';
import { ProfileService } from './profile.service.js';
import { StepsService } from './steps.service.js';
import { VoltageService } from './voltage.service.js';
import { WeatherService } from './weather.service.js';
import { WhatIfService } from './whatIf.service.js';

@Module({
  imports: [BookModule, EnergyModule, SeriesModule, SiteModule, VerifyModule],
  controllers: [ProfileController],
  providers: [
    CountedPower,
    DurationService,
    StepsService,
    BackupService,
    PhasesService,
    PlacePower,
    ProfileService,
    ProfileThread,
    VoltageService,
    WeatherService,
    WhatIfService,
  ],
  exports: [PlacePower, ProfileService],
})
export class ProfileModule {}
