import { SiteInput, type Site } from '@loka/contract/site';
import { Body, Controller, Get, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { SiteService } from './site.service.js';

@ApiTags('site')
@Controller('site')
export class SiteController {
  constructor(private readonly sites: SiteService) {}

  /** The site; `site` is null while there is none. */
  @Get()
  async get(): Promise<{ site: Site | null }> {
    return { site: await this.sites.get() };
  }

  @Put()
  save(@Body() input: SiteInput): Promise<Site> {
    return this.sites.save(input);
  }
}
