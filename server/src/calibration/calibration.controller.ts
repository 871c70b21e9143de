import { CalibrationInput, type Calibration } from '@loka/contract/calibration';
import type { Capture } from '@loka/core/calibration';
import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { ExportQuery } from '../series/period.dto.js';
import { CalibrationService } from './calibration.service.js';

@ApiTags('calibration')
@Controller('calibrations')
export class CalibrationController {
  constructor(private readonly calibrations: CalibrationService) {}

  /** Calibrations of a point, newest first. */
  @Get()
  list(@Query('point', ParseIntPipe) point: number): Promise<Calibration[]> {
    return this.calibrations.list(point);
  }

  /** Mean and spread of the raw readings of a point in a span. */
  @Get('capture')
  capture(@Query() { point, from, to }: ExportQuery): Promise<Capture> {
    return this.calibrations.capture(point, from, to);
  }

  @Post()
  make(@Body() input: CalibrationInput): Promise<Calibration> {
    return this.calibrations.make(input);
  }

  @Post(':id/undo')
  @HttpCode(204)
  undo(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.calibrations.undo(id);
  }
}
