import { SiteInput, type Site, type ZoneChange } from '@loka/contract/site';
import { Body, Controller, Get, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { SiteService } from './site.service.js';

@ApiTags('site')
@Controller('site')
export class SiteController {
  constructor(private readonly sites: SiteService) {}

  /** The site; `site` is null while there is none. */
  @Get()
  async get(): Promise<{ site: Site | null; zoneChanges: ZoneChange[] }> {
    const [site, zoneChanges] = await Promise.all([this.sites.get(), this.sites.zoneChanges()]);
    return { site, zoneChanges };
  }

  @Put()
  save(@Body() input: SiteInput): Promise<Site> {
    return this.sites.save(input);
  }
}
