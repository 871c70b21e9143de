import type { EnergyCalendar, NodeEnergy, Sparkline } from '@loka/contract/energy';
import { CALENDAR_STEPS, type CalendarStep } from '@loka/core/time';
import { Controller, Get, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { IsIn } from 'class-validator';
import { PeriodQuery } from '../series/period.dto.js';
import { EnergyService } from './energy.service.js';

/** Quarter-hours of a day: as fine as a small drawing shows. */
const PARTS = 96;

class CalendarQuery extends PeriodQuery {
  @IsIn(CALENDAR_STEPS, { message: `The step is one of ${CALENDAR_STEPS.join(', ')}.` })
  step!: CalendarStep;
}

@ApiTags('energy')
@Controller('energy')
export class EnergyController {
  constructor(private readonly energy: EnergyService) {}

  /** Import, export and net of every place over a period. */
  @Get()
  ofNodes(@Query() { from, to }: PeriodQuery): Promise<NodeEnergy[]> {
    return this.energy.ofNodes(from, to);
  }

  /** The same by quarter, hour, day or month of the site's calendar. */
  @Get('calendar')
  calendar(@Query() { from, to, step }: CalendarQuery): Promise<EnergyCalendar> {
    return this.energy.calendar(from, to, step);
  }

  @Get('sparklines')
  sparklines(@Query() { from, to }: PeriodQuery): Promise<Sparkline[]> {
    return this.energy.sparklines(from, to, PARTS);
  }
}
