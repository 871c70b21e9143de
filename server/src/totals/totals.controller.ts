import { ClearTotalInput, type Clearing, type RunningSeen, type RunningTotal } from '@loka/contract/totals';
import { Body, Controller, Get, HttpCode, ParseIntPipe, Post, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsInt } from 'class-validator';
import { LOCAL_PERSON } from '../audit/person.js';
import { PeriodQuery } from '../series/period.dto.js';
import { RunningService } from './running.service.js';
import { TotalsService } from './totals.service.js';

class NodePeriodQuery extends PeriodQuery {
  @Type(() => Number)
  @IsInt({ message: 'Choose the place.' })
  node!: number;
}

@ApiTags('energy')
@Controller('totals')
export class TotalsController {
  constructor(
    private readonly totals: TotalsService,
    private readonly running: RunningService,
  ) {}

  /** Energy and run time of a place since each was cleared last. */
  @Get()
  of(@Query('node', ParseIntPipe) node: number): Promise<RunningTotal[]> {
    return this.totals.of(node);
  }

  /** Run time and starts of a place over a period. */
  @Get('running')
  async over(@Query() { node, from, to }: NodePeriodQuery): Promise<{ running: RunningSeen | null }> {
    return { running: await this.running.over(node, from, to) };
  }

  /** Begins a total again; what was read stays as it is. */
  @Post('clear')
  @HttpCode(200)
  clear(@Body() input: ClearTotalInput): Promise<Clearing> {
    return this.totals.clear(input, LOCAL_PERSON);
  }
}
