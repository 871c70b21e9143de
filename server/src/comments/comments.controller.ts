import { CommentInput, type Comment } from '@loka/contract/comments';
import { Body, Controller, Delete, HttpCode, Param, ParseIntPipe, Post, Put } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { LOCAL_PERSON } from '../audit/person.js';
import { CommentsService } from './comments.service.js';

@ApiTags('installation')
@Controller('comments')
export class CommentsController {
  constructor(private readonly comments: CommentsService) {}

  @Post()
  add(@Body() input: CommentInput): Promise<Comment> {
    return this.comments.add(input, LOCAL_PERSON);
  }

  @Put(':id')
  change(@Param('id', ParseIntPipe) id: number, @Body() input: CommentInput): Promise<Comment> {
    return this.comments.change(id, input);
  }

  @Delete(':id')
  @HttpCode(204)
  remove(@Param('id', ParseIntPipe) id: number): Promise<void> {
    return this.comments.remove(id);
  }
}
