import {
  LinkInput,
  TrialReadInput,
  WordsReadInput,
  type TrialRead,
  type WordsRead,
} from '@loka/contract/devices';
import { Body, Controller, HttpCode, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { AcquisitionService } from './acquisition.service.js';
import { WordsService } from './words.service.js';

@ApiTags('devices')
@Controller()
export class AcquisitionController {
  constructor(
    private readonly acquisition: AcquisitionService,
    private readonly words: WordsService,
  ) {}

  /** Connects once to the address of a link that need not be saved yet. */
  @Post('links/test')
  @HttpCode(200)
  test(@Body() input: LinkInput): Promise<{ ms: number }> {
    return this.acquisition.testAddress(input);
  }

  /** Reads registers once while they are being described. */
  @Post('devices/trial-read')
  @HttpCode(200)
  trialRead(@Body() input: TrialReadInput): Promise<TrialRead[]> {
    return this.acquisition.trialRead(input);
  }

  /** Reads the words around an address a few times over two seconds, from holding and input registers. */
  @Post('devices/read-words')
  @HttpCode(200)
  readWords(@Body() input: WordsReadInput): Promise<WordsRead> {
    return this.words.read(input);
  }
}
