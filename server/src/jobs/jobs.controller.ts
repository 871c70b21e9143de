import type { Job } from '@loka/contract/readings';
import { Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { JobsService } from './jobs.service.js';

@ApiTags('jobs')
@Controller('jobs')
export class JobsController {
  constructor(private readonly jobs: JobsService) {}

  @Get()
  list(): Job[] {
    return this.jobs.list();
  }

  @Post(':id/cancel')
  @HttpCode(204)
  cancel(@Param('id') id: string): Promise<void> {
    return this.jobs.cancel(id);
  }
}
