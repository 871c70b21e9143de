import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { InstallationBook } from './installationBook.js';
import { InstallationNodeEntity } from './installationNode.entity.js';

/** The tree alone, for those who only look things up in it. */
@Module({
  imports: [TypeOrmModule.forFeature([InstallationNodeEntity])],
  providers: [InstallationBook],
  exports: [InstallationBook],
})
export class InstallationBookModule {}
