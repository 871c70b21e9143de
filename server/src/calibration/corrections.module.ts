import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { CorrectionEntity } from './calibration.entity.js';
import { CorrectionBook } from './correctionBook.js';

/** The corrections alone, for those who only apply them. */
@Module({
  imports: [TypeOrmModule.forFeature([CorrectionEntity])],
  providers: [CorrectionBook],
  exports: [CorrectionBook],
})
export class CorrectionsModule {}
