import { Body, Controller, Headers, HttpCode, Param, ParseIntPipe, Post, Req } from '@nestjs/common';
import { ApiBearerAuth, ApiTags } from '@nestjs/swagger';
import type { Request } from 'express';
import { Problem } from '../problem/errors.js';
import { AcquisitionService } from './acquisition.service.js';

/** The door at which devices and scripts post their readings, each with the token of its link. */
@ApiTags('push')
@ApiBearerAuth()
@Controller('push')
export class PushController {
  constructor(private readonly acquisition: AcquisitionService) {}

  @Post(':link')
  @HttpCode(200)
  plain(
    @Param('link', ParseIntPipe) link: number,
    @Headers('authorization') token: string,
    @Body() body: unknown,
  ) {
    return this.acquisition.push(link, token, '', body);
  }

  /** What follows the link's number is the topic of a plain JSON body. */
  @Post(':link/*topic')
  @HttpCode(200)
  onTopic(
    @Param('link', ParseIntPipe) link: number,
    @Headers('authorization') token: string,
    @Body() body: unknown,
    @Req() request: Request,
  ) {
    const path = request.originalUrl.split('?')[0] as string;
    const topic = path.split('/').slice(4);
    try {
      return this.acquisition.push(link, token, topic.map(decodeURIComponent).join('/'), body);
    } catch (error) {
      if (error instanceof URIError) throw new Problem('bad-path', 'The topic in the path is not readable.');
      throw error;
    }
  }
}
