import type { EnergyCalendar, NodeEnergy, Sparkline } from '@loka/contract/energy';
import { CALENDAR_STEPS, type CalendarStep } from '@loka/core/time';
import { Controller, Get, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsIn, IsInt, IsOptional } from 'class-validator';
import { PeriodQuery } from '../series/period.dto.js';
import { EnergyService } from './energy.service.js';

/** Quarter-hours of a day: as fine as a small drawing shows. */
const PARTS = 96;

class EnergyQuery extends PeriodQuery {
  @IsOptional()
  @Type(() => Number)
  @IsInt({ message: 'A place is given by its number.' })
  node?: number;
}

class CalendarQuery extends EnergyQuery {
  @IsIn(CALENDAR_STEPS, { message: `The step is one of ${CALENDAR_STEPS.join(', ')}.` })
  step!: CalendarStep;
}

@ApiTags('energy')
@Controller('energy')
export class EnergyController {
  constructor(private readonly energy: EnergyService) {}

  /** Import, export and net of every place over a period. */
  @Get()
  ofNodes(@Query() { from, to, node }: EnergyQuery): Promise<NodeEnergy[]> {
    return this.energy.ofNodes(from, to, only(node));
  }

  /** The same by quarter, hour, day or month of the site's calendar. */
  @Get('calendar')
  calendar(@Query() { from, to, step, node }: CalendarQuery): Promise<EnergyCalendar> {
    return this.energy.calendar(from, to, step, only(node));
  }

  @Get('sparklines')
  sparklines(@Query() { from, to }: PeriodQuery): Promise<Sparkline[]> {
    return this.energy.sparklines(from, to, PARTS);
  }
}

const only = (node: number | undefined): number[] | undefined => (node === undefined ? undefined : [node]);
