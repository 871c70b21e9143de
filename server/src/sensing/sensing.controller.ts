import { SensingInput, type SensingVersion } from '@loka/contract/sensing';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseArrayPipe,
  ParseIntPipe,
  Post,
  Query,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { LOCAL_PERSON } from '../audit/person.js';
import { SensingService } from './sensing.service.js';

@ApiTags('sensing')
@Controller('sensing')
export class SensingController {
  constructor(private readonly sensing: SensingService) {}

  /** What has sat before the meter at a point, newest first. */
  @Get()
  list(@Query('point', ParseIntPipe) point: number): SensingVersion[] {
    return this.sensing.list(point);
  }

  @Post()
  set(@Body() input: SensingInput): Promise<SensingVersion[]> {
    return this.sensing.set(input, LOCAL_PERSON);
  }

  @Delete(':ids')
  @HttpCode(204)
  takeBack(@Param('ids', new ParseArrayPipe({ items: Number })) ids: number[]): Promise<void> {
    return this.sensing.takeBack(ids);
  }
}
