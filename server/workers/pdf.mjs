// Sets a document as PDF, beside the server's thread: a pack of a hundred pages takes seconds, and what switches loads
// does not wait for it. Plain JavaScript, so that it starts the same from the sources and from what is built.
import { createRequire } from 'node:module';
import { parentPort, workerData } from 'node:worker_threads';

const require = createRequire(import.meta.url);
const pdfmake = require('pdfmake');
pdfmake.setFonts(require('pdfmake/fonts/Roboto.js'));
// A document holds text and drawings of its own: nothing is fetched, and no file read but the fonts.
pdfmake.setUrlAccessPolicy(() => false);
pdfmake.setLocalAccessPolicy((path) => path.endsWith('.ttf'));
pdfmake.setTableLayouts({
  schedule: {
    hLineWidth: (i, node) => (i === 0 || i === node.table.body.length ? 0.8 : i === 1 ? 0.6 : 0.25),
    vLineWidth: () => 0,
    hLineColor: (i) => (i <= 1 ? '#1d2b36' : '#b9c2c9'),
    paddingLeft: (i) => (i === 0 ? 0 : 5),
    paddingRight: () => 5,
    paddingTop: () => 2.5,
    paddingBottom: () => 2.5,
  },
});

const { foot, ...document } = workerData;
const footer =
  foot === undefined
    ? undefined
    : (page, pages) => ({
        margin: [42, 14, 42, 0],
        fontSize: 7.5,
        color: '#56646f',
        columns: [
          { text: foot, width: '*' },
          { width: 70, text: `Page ${page} of ${pages}`, alignment: 'right' },
        ],
      });
const buffer = await pdfmake.createPdf({ ...document, ...(footer && { footer }) }).getBuffer();
parentPort.postMessage(buffer);
