import type { PlacesBackup } from '@loka/contract/backup';
import { WhatIfInput, type PlaceWhatIf } from '@loka/contract/whatIf';
import type {
  PlaceDuration,
  PlacePhases,
  PlaceSteps,
  PlaceProfile,
  PlaceVoltage,
  PlaceWeather,
} from '@loka/contract/profile';
import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { PeriodQuery } from '../series/period.dto.js';
import { BackupQuery } from './backup.dto.js';
import { BackupService } from './backup.service.js';
import { DurationService } from './duration.service.js';
import { PhasesService } from './phases.service.js';
import { ProfileService } from './profile.service.js';
import { StepsService } from './steps.service.js';
import { VoltageService } from './voltage.service.js';
import { WeatherService } from './weather.service.js';
import { WhatIfService } from './whatIf.service.js';

@ApiTags('profile')
@Controller('profile')
export class ProfileController {
  constructor(
    private readonly profiles: ProfileService,
    private readonly backups: BackupService,
    private readonly durations: DurationService,
    private readonly steps: StepsService,
    private readonly voltages: VoltageService,
    private readonly weather: WeatherService,
    private readonly phases: PhasesService,
    private readonly whatIfs: WhatIfService,
  ) {}

  /** Whether a source carries some places, tried at every quarter-hour of a period. */
  @Get('backup')
  backup(@Query() query: BackupQuery): Promise<PlacesBackup> {
    return this.backups.of(query);
  }

  /** What a place does over a period: levels, runs, what recurs, how its days go. */
  @Get(':node')
  of(@Param('node', ParseIntPipe) node: number, @Query() { from, to }: PeriodQuery): Promise<PlaceProfile> {
    return this.profiles.of(node, from, to);
  }

  /** For how much of the time a place took how much, and how far what hangs on it falls together. */
  @Get(':node/duration')
  duration(
    @Param('node', ParseIntPipe) node: number,
    @Query() { from, to }: PeriodQuery,
  ): Promise<PlaceDuration> {
    return this.durations.of(node, from, to);
  }

  /** What was probably on behind a place that has no meter of its own, by the steps in its power. */
  @Get(':node/steps')
  ofSteps(
    @Param('node', ParseIntPipe) node: number,
    @Query() { from, to }: PeriodQuery,
  ): Promise<PlaceSteps> {
    return this.steps.of(node, from, to);
  }

  /** How the voltages of a place keep to their band. */
  @Get(':node/voltage')
  voltage(
    @Param('node', ParseIntPipe) node: number,
    @Query() { from, to }: PeriodQuery,
  ): Promise<PlaceVoltage> {
    return this.voltages.of(node, from, to);
  }

  /** How what a place takes a day hangs on the temperature outside. */
  @Get(':node/weather')
  ofWeather(
    @Param('node', ParseIntPipe) node: number,
    @Query() { from, to }: PeriodQuery,
  ): Promise<PlaceWeather> {
    return this.weather.of(node, from, to);
  }

  /** What would be if a place did something else, or with a plant or a store beside the supply. Changes nothing. */
  @Post(':node/what-if')
  @HttpCode(200)
  whatIf(@Param('node', ParseIntPipe) node: number, @Body() input: WhatIfInput): Promise<PlaceWhatIf> {
    return this.whatIfs.of(node, input);
  }

  /** How the lines of a place are loaded, and which circuit would better be on another. */
  @Get(':node/phases')
  ofPhases(
    @Param('node', ParseIntPipe) node: number,
    @Query() { from, to }: PeriodQuery,
  ): Promise<PlacePhases> {
    return this.phases.of(node, from, to);
  }
}
