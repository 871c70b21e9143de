import type { Dashboard } from '@loka/contract/dashboards';
import type { ProblemDetails } from '@loka/contract/health';
import type { Picture } from '@loka/contract/pictures';
import type { Plan } from '@loka/contract/plans';
import { contentOf, newElement } from '@loka/core/dashboards';
import { EMPTY_PLAN } from '@loka/core/plans';
import { connect } from 'node:net';
import { crc32, deflateSync } from 'node:zlib';
import sharp from 'sharp';
import { Loka, until } from './support/loka.js';

// Uploaded pictures: what is none, what is too large and what acts is refused with the limit; what is kept has no secrets.
let loka: Loka;
beforeAll(async () => {
  loka = await Loka.start(undefined, { acquire: false });
});
afterAll(() => loka.stop());

const send = (
  file: Uint8Array | string,
  { name = 'Ground floor', type = 'application/octet-stream', origin = loka.base } = {},
) =>
  fetch(`${loka.base}/api/pictures?name=${encodeURIComponent(name)}`, {
    method: 'POST',
    headers: { 'content-type': type, origin },
    body: file as BodyInit,
  });
const taken = async (file: Uint8Array | string, name?: string): Promise<Picture> => {
  const response = await send(file, name === undefined ? {} : { name });
  if (response.status !== 201) throw new Error(await response.text());
  return (await response.json()) as Picture;
};
const refused = async (file: Uint8Array | string): Promise<string> => {
  const response = await send(file);
  expect(response.status).toBe(422);
  const { errors } = (await response.json()) as ProblemDetails;
  expect(errors?.[0]?.field).toBe('file');
  return errors?.[0]?.message ?? '';
};
const content = ({ id, hash }: Picture) => fetch(`${loka.base}/api/pictures/${id}/${hash}`);
const red = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 3, background: '#c00' } });
const SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 20"><rect width="9" height="9"/></svg>';
const LIMITS = 'PNG or JPEG up to 10 MB and 50 million pixels, or SVG up to 2 MB.';

/** A PNG by its specification (ISO/IEC 15948, 5): a header of any size, and no rows. */
function headerOf(width: number, height: number): Buffer {
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type), data]);
    const length = Buffer.alloc(4);
    length.writeUInt32BE(data.length);
    const sum = Buffer.alloc(4);
    sum.writeUInt32BE((crc32 as (b: Buffer) => number)(body));
    return Buffer.concat([length, body, sum]);
  };
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([1, 0, 0, 0, 0], 8);
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', header),
    chunk('IDAT', deflateSync(Buffer.alloc(100))),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

it('is kept, listed without its content, and the same content is kept once', async () => {
  const png = await red(300, 200).png().toBuffer();
  const made = await taken(png, ' Cellar ');
  expect(made).toMatchObject({ name: 'Cellar', type: 'image/png', width: 300, height: 200 });
  expect(await taken(png, 'Again')).toEqual(made);
  expect(
    await Promise.all([taken(SVG, 'A'), taken(SVG, 'A')]).then((both) => both[0].id === both[1].id),
  ).toBe(true);
  const listed = await loka.ask<Picture[]>('/pictures');
  expect(listed.map((p) => [p.name, p.type])).toEqual([
    ['A', 'image/svg+xml'],
    ['Cellar', 'image/png'],
  ]);
  expect(JSON.stringify(listed)).not.toContain('content');
  const got = await content(made);
  expect(got.headers.get('content-type')).toBe('image/png');
  const { width, height } = await sharp(Buffer.from(await got.arrayBuffer())).metadata();
  expect([width, height]).toEqual([300, 200]);
});

it('a photograph stands upright, is no larger than a wall shows, and does not tell where it was made', async () => {
  const photo = await red(6000, 3000)
    .withExif({ IFD0: { Copyright: 'Somebody' }, IFD3: { GPSLatitude: '51/1 30/1 0/1' } })
    .withMetadata({ orientation: 6 })
    .jpeg()
    .toBuffer();
  const made = await taken(photo, 'Photo');
  expect(made).toMatchObject({ type: 'image/jpeg', width: 1920, height: 3840 });
  const kept = Buffer.from(await (await content(made)).arrayBuffer());
  const { exif, orientation } = await sharp(kept).metadata();
  expect([exif, orientation]).toEqual([undefined, undefined]);
  expect(kept.includes('Somebody')).toBe(false);
});

it('a drawing does nothing, wherever it is opened', async () => {
  const made = await taken(SVG.replace('<rect', '<metadata>x</metadata><rect'), 'Drawing');
  expect(made).toMatchObject({ type: 'image/svg+xml', width: 40, height: 20 });
  const got = await content(made);
  expect(got.headers.get('content-type')).toContain('image/svg+xml');
  expect(got.headers.get('x-content-type-options')).toBe('nosniff');
  expect(got.headers.get('content-security-policy')).toContain('sandbox');
  expect(await got.text()).not.toContain('metadata');
});

it.each<[string, () => Promise<Uint8Array | string> | Uint8Array | string, RegExp]>([
  ['nothing', () => '', /empty/],
  ['words', () => 'hello', /neither a PNG, a JPEG nor an SVG/],
  ['a page', () => '<html></html>', /Line 1: This is not an SVG/],
  ['a script in a drawing', () => SVG.replace('<rect', '\n<script/><rect'), /Line 2: It holds “script”/],
  ['another kind of picture', () => red(4, 4).webp().toBuffer(), /neither/],
  [
    'a beginning with nothing behind',
    () => Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    /the rest is not one/,
  ],
  [
    'a half',
    async () => (await red(800, 800).png({ compressionLevel: 0 }).toBuffer()).subarray(0, 90_000),
    /damaged/,
  ],
  ['a half photograph', async () => (await red(800, 800).jpeg().toBuffer()).subarray(0, 1500), /damaged/],
  ['a small file of a huge picture', () => headerOf(60_000, 60_000), /60000 × 60000 pixels, 3600 million/],
  [
    'a drawing with such a one in it',
    () =>
      SVG.replace(
        '<rect',
        `<image href="data:image/png;base64,${headerOf(60_000, 60_000).toString('base64')}"/><rect`,
      ),
    /3600 million/,
  ],
  [
    'a drawing of three megabytes',
    () => SVG.replace('<rect', `${'<rect/>'.repeat(430_000)}<rect`),
    /has 3\.0 MB/,
  ],
  [
    'a drawing in other letters',
    () => Buffer.from(SVG.replace('<rect', '<title>Küche</title><rect'), 'latin1'),
    /UTF-8/,
  ],
  ['forty megabytes', () => Buffer.alloc(40_000_000), /has 40\.0 MB/],
])('%s is refused with the limit', async (_, file, says) => {
  const message = await refused(await file());
  expect(message).toMatch(says);
  expect(message).toContain(LIMITS);
});

it('forty megabytes that do not say how many they are, end at ten', async () => {
  const told = await new Promise<string>((resolve, reject) => {
    const { hostname, port, host } = new URL(loka.base);
    const socket = connect(Number(port), hostname);
    let answer = '';
    socket.on('data', (part) => (answer += String(part)));
    socket.on('close', () => resolve(answer));
    socket.on('error', () => resolve(answer));
    socket.write(
      `POST /api/pictures?name=x HTTP/1.1\r\nhost: ${host}\r\ncontent-type: image/png\r\ntransfer-encoding: chunked\r\nconnection: close\r\n\r\n`,
    );
    const part = Buffer.alloc(1_000_000);
    for (let i = 0; i < 40; i++)
      socket.write(
        Buffer.concat([Buffer.from(`${part.length.toString(16)}\r\n`), part, Buffer.from('\r\n')]),
      );
    setTimeout(() => reject(new Error('no answer')), 10_000).unref();
  });
  expect(told === '' || told.includes('422')).toBe(true);
  expect((await loka.ask<Picture[]>('/pictures')).some((p) => p.name === 'x')).toBe(false);
});

it('without a name, of another site, as a form, or of what is not there: refused', async () => {
  expect((await send(SVG, { name: '' })).status).toBe(422);
  expect((await send(SVG, { name: 'a'.repeat(81) })).status).toBe(422);
  expect((await send(SVG, { origin: 'http://elsewhere.example' })).status).toBe(403);
  expect((await send(SVG, { type: 'text/plain' })).status).toBe(403);
  expect((await send(SVG, { type: 'multipart/form-data; boundary=x' })).status).toBe(403);
  expect((await loka.raw('/pictures/999/abc')).status).toBe(404);
  expect((await loka.raw('/pictures/999', 'DELETE')).status).toBe(404);
});

it('stays while a plan or a dashboard shows it, and goes after that', async () => {
  const { id } = await taken(await red(30, 30).png().toBuffer(), 'Shown');
  const plan = await loka.ask<Plan>('/plans', 'POST', {
    name: 'With a picture',
    content: { ...EMPTY_PLAN, picture: { id, strength: 0.5, drawing: true } },
  });
  expect(plan.content.picture).toEqual({ id, strength: 0.5, drawing: true });
  const element = newElement('e1', 'picture', [{ of: 'picture', id }], { x: 0, y: 0, w: 3, h: 4 });
  const dashboard = await loka.ask<Dashboard>('/dashboards', 'POST', {
    name: 'With it too',
    content: contentOf([element]),
  });
  const { status, body } = await loka.raw(`/pictures/${id}`, 'DELETE');
  expect(status).toBe(409);
  expect((body as ProblemDetails).detail).toContain('“With a picture”, “With it too”');
  await loka.ask(`/plans/${plan.id}`, 'DELETE');
  await loka.ask(`/dashboards/${dashboard.id}`, 'DELETE');
  expect((await loka.raw(`/pictures/${id}`, 'DELETE')).status).toBe(204);
});

it('the log of changes says who has sent what, without the picture', async () => {
  await taken(await red(31, 31).png().toBuffer(), 'Logged');
  const logged = await until('the entry', async () => {
    const [rows] = await loka.sql.query("SELECT detail FROM audit WHERE subject = '/api/pictures'");
    return (rows as { detail: unknown }[])
      .map((r) => JSON.stringify(r.detail))
      .find((d) => d.includes('Logged'));
  });
  expect(logged.length).toBeLessThan(100);
});
