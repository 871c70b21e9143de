import {
  CalibrationCopy,
  CalibrationInput,
  type Calibration,
  type ChangedMonth,
  type ComparedMeter,
  type CorrectionInForce,
  type DriftSeen,
  type DueSeen,
} from '@loka/contract/calibration';
import type { Capture } from '@loka/core/calibration';
import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { LOCAL_PERSON } from '../audit/person.js';
import { ExportQuery } from '../series/period.dto.js';
import { CalibrationService } from './calibration.service.js';
import { CapturesService } from './captures.service.js';
import { CopiesService } from './copies.service.js';
import { DriftsService } from './drifts.service.js';

@ApiTags('calibration')
@Controller('calibrations')
export class CalibrationController {
  constructor(
    private readonly calibrations: CalibrationService,
    private readonly captures: CapturesService,
    private readonly copies: CopiesService,
    private readonly driftsSeen: DriftsService,
  ) {}

  /** Calibrations of a point, newest first. */
  @Get()
  list(@Query('point', ParseIntPipe) point: number): Promise<Calibration[]> {
    return this.calibrations.list(point);
  }

  /** Mean and spread of the raw readings of a point in a span. */
  @Get('capture')
  capture(@Query() { point, from, to }: ExportQuery): Promise<Capture> {
    return this.captures.capture(point, from, to);
  }

  /** What another meter on the same conductor read in a span, as it is corrected. */
  @Get('compared')
  compared(@Query() { point, from, to }: ExportQuery): Promise<ComparedMeter> {
    return this.captures.compared(point, from, to);
  }

  /** What a correction would change in the past, before it is applied. */
  @Post('preview')
  @HttpCode(200)
  preview(@Body() input: CalibrationInput): Promise<ChangedMonth[]> {
    return this.calibrations.preview(input);
  }

  @Post()
  make(@Body() input: CalibrationInput): Promise<Calibration> {
    return this.calibrations.make(input, LOCAL_PERSON);
  }

  /** What corrects a point now, by its own calibration or by that of the current of its clamp. */
  @Get('holding')
  holding(@Query('point', ParseIntPipe) point: number): Promise<{ correction: CorrectionInForce | null }> {
    return this.calibrations.holding(point);
  }

  /** By when calibrated points are to be calibrated again, the earliest first. */
  @Get('due')
  due(): Promise<DueSeen[]> {
    return this.calibrations.due();
  }

  /** Calibrated points that drift from their neighbours. */
  @Get('drifts')
  drifts(): Promise<DriftSeen[]> {
    return this.driftsSeen.list();
  }

  /** Points of like devices, which could take over what was found of one. */
  @Get('alike')
  alike(@Query('point', ParseIntPipe) point: number): Promise<number[]> {
    return this.copies.alike(point);
  }

  /** Has points of like devices take over a correction; answers with the calibrations that came of it. */
  @Post(':id/copy')
  @HttpCode(200)
  copy(@Param('id', ParseIntPipe) id: number, @Body() input: CalibrationCopy): Promise<number[]> {
    return this.copies.copy(id, input, LOCAL_PERSON);
  }

  @Post(':id/undo')
  @HttpCode(204)
  undo(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.calibrations.undo(id);
  }
}
