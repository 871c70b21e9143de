import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { SwitchEntity } from './control.entity.js';
import { SwitchBook } from './switchBook.js';

/** The switches alone, for those who only look them up. */
@Module({
  imports: [TypeOrmModule.forFeature([SwitchEntity])],
  providers: [SwitchBook],
  exports: [SwitchBook],
})
export class SwitchBookModule {}
