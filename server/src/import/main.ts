import 'reflect-metadata';
import { NestFactory } from '@nestjs/core';
import { readFileSync } from 'node:fs';
import { AppModule } from '../app.module.js';
import { readConfig } from '../config.js';
import { SiteService } from '../site/site.service.js';
import type { SiteFile } from './siteFile.js';
import { SiteImport } from './siteImport.js';

// node server/dist/import/main.js SITE.json [HISTORY.csv]: makes the site unless there is one already.
const [, , siteFile, historyFile] = process.argv;
if (!siteFile) {
  console.error('usage: import SITE.json [HISTORY.csv]');
  process.exit(2);
}
const app = await NestFactory.createApplicationContext(
  AppModule.with({ ...readConfig(process.env), acquire: false }),
  { logger: ['warn', 'error'], abortOnError: false },
);
try {
  if (await app.get(SiteService).get()) console.log('site is there already');
  else {
    const site = new SiteImport(app);
    await site.run(JSON.parse(readFileSync(siteFile, 'utf8')) as SiteFile);
    if (historyFile) console.log(`${await site.loadHistory(historyFile, console.log)} readings of history`);
    console.log('site made');
  }
} finally {
  await app.close();
}
