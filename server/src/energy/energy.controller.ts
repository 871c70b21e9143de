import type { NodeEnergy, Sparkline } from '@loka/contract/installation';
import { Controller, Get, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { PeriodQuery } from '../series/period.dto.js';
import { EnergyService } from './energy.service.js';

/** Quarter-hours of a day: as fine as a small drawing shows. */
const PARTS = 96;

@ApiTags('energy')
@Controller('energy')
export class EnergyController {
  constructor(private readonly energy: EnergyService) {}

  @Get()
  ofNodes(@Query() { from, to }: PeriodQuery): Promise<NodeEnergy[]> {
    return this.energy.ofNodes(from, to);
  }

  @Get('sparklines')
  sparklines(@Query() { from, to }: PeriodQuery): Promise<Sparkline[]> {
    return this.energy.sparklines(from, to, PARTS);
  }
}
