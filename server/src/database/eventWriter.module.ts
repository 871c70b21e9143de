import { Global, Module } from '@nestjs/common';
import { DatabaseWatch } from './databaseWatch.js';
import { EventWriter } from './eventWriter.js';

@Global()
@Module({ providers: [EventWriter, DatabaseWatch], exports: [EventWriter, DatabaseWatch] })
export class EventWriterModule {}
