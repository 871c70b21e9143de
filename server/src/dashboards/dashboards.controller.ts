import {
  DashboardInput,
  DashboardRestore,
  type Dashboard,
  type DashboardVersion,
} from '@loka/contract/dashboards';
import { Body, Controller, Delete, Get, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { LOCAL_PERSON } from '../audit/person.js';
import { DashboardsService } from './dashboards.service.js';

@ApiTags('dashboards')
@Controller('dashboards')
export class DashboardsController {
  constructor(private readonly dashboards: DashboardsService) {}

  @Get()
  list(): Promise<Dashboard[]> {
    return this.dashboards.list();
  }

  @Post()
  create(@Body() input: DashboardInput): Promise<Dashboard> {
    return this.dashboards.create(input, LOCAL_PERSON);
  }

  @Put(':id')
  change(@Param('id', ParseIntPipe) id: number, @Body() input: DashboardInput): Promise<Dashboard> {
    return this.dashboards.change(id, input, LOCAL_PERSON);
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.dashboards.remove(id);
  }

  @Get(':id/versions')
  versions(@Param('id', ParseIntPipe) id: number): Promise<DashboardVersion[]> {
    return this.dashboards.versions(id);
  }

  /** Makes it again what it was. */
  @Post(':id/restore')
  @HttpCode(200)
  restore(@Param('id', ParseIntPipe) id: number, @Body() input: DashboardRestore): Promise<Dashboard> {
    return this.dashboards.restore(id, input.versionId, input.version, LOCAL_PERSON);
  }
}
