import {
  FoundDeviceInput,
  RecogniseInput,
  SearchInput,
  SunspecInput,
  type FoundDevice,
  type Search,
} from '@loka/contract/search';
import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { AllowedNetworks } from '../security/allowedNetworks.js';
import { SearchService } from './search.service.js';
import { SunspecService } from './sunspec.service.js';

@ApiTags('search')
@Controller()
export class SearchController {
  constructor(
    private readonly searches: SearchService,
    private readonly sunspec: SunspecService,
    private readonly networks: AllowedNetworks,
  ) {}

  /** The search under way or the last one, and where may be searched. */
  @Get('searches/last')
  last(): { search: Search | null; networks: readonly string[] } {
    return { search: this.searches.state(), networks: this.networks.networks };
  }

  @Post('searches')
  start(@Body() input: SearchInput): Search {
    return this.searches.start(input);
  }

  /** What answers at one address and unit id, and which maps read plausibly there. Changes nothing. */
  @Post('searches/recognise')
  @HttpCode(200)
  recognise(@Body() input: RecogniseInput): Promise<FoundDevice> {
    return this.searches.recogniseAt(input);
  }

  @Post('searches/:id/cancel')
  @HttpCode(204)
  cancel(@Param('id') id: string): void {
    this.searches.cancel(id);
  }

  /** Makes a device of something that was found. */
  @Post('searches/add')
  add(@Body() input: FoundDeviceInput): Promise<{ id: number }> {
    return this.searches.add(input);
  }

  /** Makes a device of a unit that tells by SunSpec what it is. */
  @Post('devices/sunspec')
  addSunspec(@Body() input: SunspecInput) {
    return this.sunspec.add(input);
  }
}
