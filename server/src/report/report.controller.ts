import { KeepReportInput, type EnergyReport, type KeptReport } from '@loka/contract/report';
import { siteClock } from '@loka/core/time';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  Post,
  Query,
  Res,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { Type } from 'class-transformer';
import { IsInt, IsString, Length } from 'class-validator';
import type { Response } from 'express';
import { LOCAL_PERSON } from '../audit/person.js';
import { sendFile } from '../files/sendFile.js';
import { KeptReportsService } from './keptReports.service.js';
import { reportCsv } from './reportCsv.js';
import { ReportService } from './report.service.js';

class ReportQuery {
  @Type(() => Number)
  @IsInt({ message: 'Choose a place.' })
  node!: number;

  @IsString()
  @Length(1, 60, { message: 'Choose a period.' })
  period!: string;
}

@ApiTags('reports')
@Controller('reports')
export class ReportController {
  constructor(
    private readonly reports: ReportService,
    private readonly kept: KeptReportsService,
  ) {}

  /** What a place took over a period, out of what is recorded now. The period as in an address: 2026-10. */
  @Get('now')
  now(@Query() { node, period }: ReportQuery): Promise<EnergyReport> {
    return this.reports.of(node, period);
  }

  @Get('now.csv')
  async nowCsv(@Query() { node, period }: ReportQuery, @Res() response: Response): Promise<void> {
    send(response, await this.reports.of(node, period));
  }

  /** Those that are kept, newest first. */
  @Get()
  list(): Promise<KeptReport[]> {
    return this.kept.list();
  }

  @Post()
  keep(@Body() input: KeepReportInput): Promise<KeptReport> {
    return this.kept.keep(input, LOCAL_PERSON);
  }

  /** A kept one, as it was made. */
  @Get(':id')
  read(@Param('id', ParseIntPipe) id: number): Promise<EnergyReport> {
    return this.kept.read(id);
  }

  @Get(':id/report.csv')
  async csv(@Param('id', ParseIntPipe) id: number, @Res() response: Response): Promise<void> {
    send(response, await this.kept.read(id));
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.kept.remove(id);
  }

  @Post(':id/restore')
  @HttpCode(204)
  restore(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.kept.restore(id);
  }
}

function send(response: Response, report: EnergyReport): void {
  const day = (t: number) => siteClock(report.site.timeZone, t, 'yyyy-MM-dd');
  const name = `${report.place} ${day(report.from)} to ${day(report.to - 1)}.csv`;
  sendFile(response, name, 'text/csv; charset=utf-8', reportCsv(report));
}
