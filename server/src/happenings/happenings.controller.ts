import type { Happening } from '@loka/contract/happenings';
import { Controller, Get, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsInt } from 'class-validator';
import { PeriodQuery } from '../series/period.dto.js';
import { HappeningsService } from './happenings.service.js';

class HappeningsQuery extends PeriodQuery {
  @Type(() => Number)
  @IsInt({ message: 'Choose the place.' })
  node!: number;
}

@ApiTags('installation')
@Controller('happenings')
export class HappeningsController {
  constructor(private readonly happenings: HappeningsService) {}

  /** What happened at a place within a period. */
  @Get()
  of(@Query() { node, from, to }: HappeningsQuery): Promise<Happening[]> {
    return this.happenings.of(node, from, to);
  }
}
