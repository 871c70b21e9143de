import type { Series } from '@loka/contract/readings';
import { MINUTE } from '@loka/core/series';
import { Controller, Get, Query, Res } from '@nestjs/common';
import { ApiProduces, ApiTags } from '@nestjs/swagger';
import { stringify } from 'csv-stringify';
import type { Response } from 'express';
import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import { nameDownload } from '../files/sendFile.js';
import { EXPORT_HEADER } from './exportColumns.js';
import { ExportQuery, SeriesQuery } from './period.dto.js';
import { ReadingsService } from './readings.service.js';

@ApiTags('readings')
@Controller('readings')
export class ReadingsController {
  constructor(private readonly readings: ReadingsService) {}

  @Get()
  series(@Query() { points, from, to, width, block }: SeriesQuery): Promise<Series[]> {
    return this.readings.series(
      points,
      { from, to },
      block ? { step: block * MINUTE } : { width: width ?? 1000 },
    );
  }

  /** All readings of a point in a period as CSV (RFC 4180, CRLF). */
  @Get('export.csv')
  @ApiProduces('text/csv')
  async export(@Query() { point, from, to }: ExportQuery, @Res() response: Response): Promise<void> {
    const { deviceName, definition } = this.readings.point(point);
    const rows = this.readings.exportRows(point, from, to);
    const first = await rows.next(); // what fails, fails before the headers are gone
    nameDownload(response, `${deviceName} ${definition.name}.csv`, 'text/csv; charset=utf-8; header=present');
    const all = async function* () {
      yield EXPORT_HEADER;
      if (!first.done) yield first.value;
      yield* rows;
    };
    await pipeline(Readable.from(all()), stringify({ record_delimiter: '\r\n' }), response);
  }
}
