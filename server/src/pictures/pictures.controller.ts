import { LARGEST_PICTURE, PictureName, type Picture } from '@loka/contract/pictures';
import {
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  Post,
  Query,
  Req,
  Res,
} from '@nestjs/common';
import { ApiConsumes, ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { LOCAL_PERSON } from '../audit/person.js';
import { PicturesService } from './pictures.service.js';
import { tooLargeProblem } from './takeIn.js';

@ApiTags('pictures')
@Controller('pictures')
export class PicturesController {
  constructor(private readonly pictures: PicturesService) {}

  @Get()
  list(): Promise<Picture[]> {
    return this.pictures.list();
  }

  /** The picture itself. Its address has the hash of its content in it, so it is kept by who has it. */
  @Get(':id/:hash')
  async content(@Param('id', ParseIntPipe) id: number, @Res() response: Response): Promise<void> {
    const { type, content } = await this.pictures.content(id);
    response.setHeader('content-type', type);
    response.setHeader('cache-control', 'private, max-age=31536000, immutable');
    // Also where somebody opens it by itself.
    response.setHeader(
      'content-security-policy',
      "default-src 'none'; style-src 'unsafe-inline'; img-src data:; sandbox",
    );
    response.send(content);
  }

  /** Takes a file, which is the body itself. */
  @Post()
  @ApiConsumes('image/png', 'image/jpeg', 'image/svg+xml', 'application/octet-stream')
  async add(@Query() { name }: PictureName, @Req() request: Request): Promise<Picture> {
    const file = await bodyOf(request);
    // For the log of changes.
    request.body = { name, bytes: file.length };
    return this.pictures.add(name, file, LOCAL_PERSON);
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.pictures.remove(id);
  }
}

/** The whole body, as far as a picture may go. @throws Problem invalid where it is larger */
async function bodyOf(request: Request): Promise<Buffer> {
  const told = Number(request.headers['content-length'] ?? 0);
  if (told > LARGEST_PICTURE) {
    // Read on without keeping it, so that whoever sends it hears the answer.
    request.resume();
    throw tooLargeProblem(told);
  }
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of request as AsyncIterable<Buffer>) {
    size += part.length;
    if (size > LARGEST_PICTURE) throw tooLargeProblem(size);
    parts.push(part);
  }
  return Buffer.concat(parts);
}
