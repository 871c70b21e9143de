import { Global, Module } from '@nestjs/common';
import { EventWriter } from './eventWriter.js';

@Global()
@Module({ providers: [EventWriter], exports: [EventWriter] })
export class EventWriterModule {}
