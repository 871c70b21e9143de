import type { AuditEntry } from '@loka/contract/health';
import { Controller, Get } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { ApiTags } from '@nestjs/swagger';
import { Repository } from 'typeorm';
import { EventWriter } from '../database/eventWriter.js';
import { AuditEntryEntity } from './auditEntry.entity.js';

@ApiTags('audit')
@Controller('audit')
export class AuditController {
  constructor(
    @InjectRepository(AuditEntryEntity) private readonly entries: Repository<AuditEntryEntity>,
    private readonly writer: EventWriter,
  ) {}

  /** The newest hundred changes. */
  @Get()
  async list(): Promise<AuditEntry[]> {
    await this.writer.idle();
    return this.entries.find({ order: { id: 'DESC' }, take: 100 });
  }
}
