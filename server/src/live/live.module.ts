import { Global, Module } from '@nestjs/common';
import { ChangeFeed } from './changeFeed.js';
import { LiveController } from './live.controller.js';
import { LiveReadings } from './liveReadings.js';

@Global()
@Module({
  controllers: [LiveController],
  providers: [ChangeFeed, LiveReadings],
  exports: [ChangeFeed, LiveReadings],
})
export class LiveModule {}
