import type { InstantBalance, PeriodBalance } from '@loka/contract/balance';
import { CALENDAR_STEPS, type CalendarStep } from '@loka/core/time';
import { Controller, Get, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsIn, IsInt, Min } from 'class-validator';
import { PeriodQuery } from '../series/period.dto.js';
import { BalanceService } from './balance.service.js';

class BalanceQuery extends PeriodQuery {
  @IsIn(CALENDAR_STEPS, { message: `The step is one of ${CALENDAR_STEPS.join(', ')}.` })
  step!: CalendarStep;
}

class InstantQuery {
  @Type(() => Number)
  @IsInt({ message: 'An instant is given in milliseconds.' })
  @Min(0)
  t!: number;
}

@ApiTags('balance')
@Controller('balance')
export class BalanceController {
  constructor(private readonly balance: BalanceService) {}

  /** Sources and uses over a period, by quarter, hour, day or month of the site's calendar. */
  @Get()
  ofPeriod(@Query() { from, to, step }: BalanceQuery): Promise<PeriodBalance> {
    return this.balance.ofPeriod(from, to, step);
  }

  /** Sources and uses at an instant. */
  @Get('at')
  atInstant(@Query() { t }: InstantQuery): Promise<InstantBalance> {
    return this.balance.atInstant(t);
  }
}
