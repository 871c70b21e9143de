import {
  MovesInput,
  TrialReadInput,
  WordsReadInput,
  type MovedPoint,
  type TrialRead,
  type WordsRead,
} from '@loka/contract/acquisition';
import { LinkInput } from '@loka/contract/links';
import type { TopicsSeen } from '@loka/contract/messages';
import { Body, Controller, Get, HttpCode, Param, ParseIntPipe, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { AcquisitionService } from './acquisition.service.js';
import { MovesService } from './moves.service.js';
import { WordsService } from './words.service.js';

@ApiTags('devices')
@Controller()
export class AcquisitionController {
  constructor(
    private readonly acquisition: AcquisitionService,
    private readonly words: WordsService,
    private readonly moves: MovesService,
  ) {}

  /** Connects once to the address of a link that need not be saved yet. */
  @Post('links/test')
  @HttpCode(200)
  test(@Body() input: LinkInput): Promise<{ ms: number }> {
    return this.acquisition.testLink(input);
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

  /** Which values follow a load that was switched at the given instants. */
  @Post('devices/which-moves')
  @HttpCode(200)
  whichMoves(@Body() input: MovesInput): Promise<MovedPoint[]> {
    return this.moves.rank(input);
  }

  /** What is being published on a link of messages; listens as long as somebody asks. */
  @Get('links/:id/topics')
  topics(@Param('id', ParseIntPipe) id: number): Promise<TopicsSeen> {
    return this.acquisition.topics(id);
  }
}
