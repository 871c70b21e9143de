import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule, type OpenAPIObject } from '@nestjs/swagger';
import { defaultMetadataStorage } from 'class-transformer/cjs/storage.js';
import { validationMetadatasToSchemas } from 'class-validator-jsonschema';
import compression from 'compression';
import helmet from 'helmet';
import sirv from 'sirv';
import express, { type NextFunction, type Request, type Response } from 'express';
import { extname, join } from 'node:path';
import { AppModule } from './app.module.js';
import type { Config } from './config.js';
import { ProblemFilter } from './problem/problem.filter.js';
import { fewParts, reasonableBodies } from './problem/bodies.js';
import { validation } from './problem/validation.js';
import { localOnly } from './security/localOnly.js';

/**
 * How long a connection that says nothing is kept, ms. Node's own five seconds are about how often a script posts or a
 * screen asks: a request that meets the close on its way is lost. Longer than the minute of proxies.
 */
const KEEPS_ALIVE = 75_000;

/** Makes the server, ready to listen. */
export async function createApp(
  config: Config,
  logger: false | ('log' | 'warn' | 'error')[] = ['log', 'warn', 'error'],
): Promise<NestExpressApplication> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule.with(config), {
    logger,
    abortOnError: false,
    bodyParser: false,
    // Pages that are open hold a stream that does not end by itself; a stop does not wait for them.
    forceCloseConnections: true,
  });
  app.getHttpServer().keepAliveTimeout = KEEPS_ALIVE;
  // First: what is refused carries the same headers.
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:'],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(localOnly);
  // The live stream is not held back to be packed.
  app.use(
    compression({
      filter: (request, response) => !isStream(response) && compression.filter(request, response),
    }),
  );
  // A register map of 500 values is about 200 kB.
  app.use(
    express.json({
      limit: '1mb',
      type: ['application/json', 'application/senml+json'],
      verify: fewParts,
    }),
  );
  app.use(reasonableBodies);
  app.setGlobalPrefix('api');
  app.useGlobalPipes(validation());
  app.useGlobalFilters(new ProblemFilter());
  app.enableShutdownHooks();
  describe(app);
  if (config.webFolder) serveScreens(app, config.webFolder);
  return app;
}

const isStream = (response: Response): boolean =>
  String(response.getHeader('content-type')).startsWith('text/event-stream');

/** The interface for programs as OpenAPI; worked out when it is first asked for. */
function describe(app: NestExpressApplication): void {
  SwaggerModule.setup('api/docs', app, () => documentOf(app), { jsonDocumentUrl: 'api/docs.json' });
}

/** What comes in is described by the same classes that check it. */
function documentOf(app: NestExpressApplication): OpenAPIObject {
  const about = new DocumentBuilder()
    .setTitle('Loka')
    .setDescription('Everything that Loka’s screens do, for programs.')
    .setVersion('0.1')
    .build();
  const document = SwaggerModule.createDocument(app, about);
  const checked = validationMetadatasToSchemas({
    classTransformerMetadataStorage: defaultMetadataStorage,
    refPointerPrefix: '#/components/schemas/',
  });
  document.components = {
    ...document.components,
    schemas: {
      ...document.components?.schemas,
      ...(checked as NonNullable<typeof document.components>['schemas']),
    },
  };
  return document;
}

/** The built screens; a path without a file extension is a place inside them, a missing file is a 404. */
function serveScreens(app: NestExpressApplication, folder: string): void {
  // Each file as it was compressed when it was built. Whether it is there is seen at the start.
  const kept = { brotli: true, gzip: true, etag: true };
  app.use('/assets', sirv(join(folder, 'assets'), { ...kept, immutable: true, maxAge: 31_536_000 }));
  app.use(sirv(folder, { ...kept, extensions: [] }));
  app.use((request: Request, response: Response, next: NextFunction) => {
    if (!['GET', 'HEAD'].includes(request.method)) return next();
    if (request.path.startsWith('/api') || extname(request.path) !== '') return next();
    response.setHeader('cache-control', 'no-cache');
    // By its root: a folder above it whose name begins with a dot is no reason to keep it back.
    response.sendFile('index.html', { root: folder });
  });
}
