import type { AuditEntry } from '@loka/contract/health';
import { Controller, Get } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { ApiTags } from '@nestjs/swagger';
import { Repository } from 'typeorm';
import { AuditEntryEntity } from './auditEntry.entity.js';

@ApiTags('audit')
@Controller('audit')
export class AuditController {
  constructor(@InjectRepository(AuditEntryEntity) private readonly entries: Repository<AuditEntryEntity>) {}

  /** The newest hundred changes. */
  @Get()
  list(): Promise<AuditEntry[]> {
    return this.entries.find({ order: { id: 'DESC' }, take: 100 });
  }
}
