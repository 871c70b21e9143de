import type { PlaceProfile } from '@loka/contract/profile';
import { Controller, Get, Param, ParseIntPipe, Query } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { PeriodQuery } from '../series/period.dto.js';
import { ProfileService } from './profile.service.js';

@ApiTags('profile')
@Controller('profile')
export class ProfileController {
  constructor(private readonly profiles: ProfileService) {}

  /** What a place does over a period: levels, runs, what recurs, how its days go. */
  @Get(':node')
  of(@Param('node', ParseIntPipe) node: number, @Query() { from, to }: PeriodQuery): Promise<PlaceProfile> {
    return this.profiles.of(node, from, to);
  }
}
