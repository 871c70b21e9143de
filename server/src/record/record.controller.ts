import { LabelsQuery, type CircuitRecord, type SiteRecord } from '@loka/contract/record';
import { Controller, Get, Param, ParseIntPipe, Query, StreamableFile } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { LOCAL_PERSON } from '../audit/person.js';
import { invalid } from '../problem/errors.js';
import { labelsSheet } from './labelsSheet.js';
import { PdfPress, type Sheet } from './pdfPress.js';
import { RecordService } from './record.service.js';
import { circuitSheet, siteSheet } from './recordSheet.js';

/** The record of circuits and of the site, as it is shown and as it is printed. */
@ApiTags('record')
@Controller('records')
export class RecordController {
  constructor(
    private readonly records: RecordService,
    private readonly press: PdfPress,
  ) {}

  @Get('site')
  site(): Promise<SiteRecord> {
    return this.records.site(LOCAL_PERSON);
  }

  /** The handover pack. */
  @Get('site.pdf')
  async sitePdf(): Promise<StreamableFile> {
    return this.file(siteSheet(await this.records.site(LOCAL_PERSON)), 'handover');
  }

  /** Labels with a code that opens the circuit's page. */
  @Get('labels.pdf')
  async labels(@Query() { address, nodes, skip }: LabelsQuery): Promise<StreamableFile> {
    const labels = await this.records.labels(address, nodes);
    if (labels.length === 0)
      throw invalid('Nothing is measured there: there is nothing to stick a label on.');
    return this.file(labelsSheet(labels, skip), 'labels');
  }

  @Get('circuits/:id')
  circuit(@Param('id', ParseIntPipe) id: number): Promise<CircuitRecord> {
    return this.records.circuit(id);
  }

  @Get('circuits/:id/record.pdf')
  async circuitPdf(@Param('id', ParseIntPipe) id: number): Promise<StreamableFile> {
    const [record, head] = await Promise.all([this.records.circuit(id), this.records.head(LOCAL_PERSON)]);
    return this.file(circuitSheet(head, record), `circuit-${id}`);
  }

  private async file(sheet: Sheet, name: string): Promise<StreamableFile> {
    return new StreamableFile(await this.press.press(sheet), {
      type: 'application/pdf',
      disposition: `inline; filename="${name}.pdf"`,
    });
  }
}
