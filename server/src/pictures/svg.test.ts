import fc from 'fast-check';
import { SaxesParser } from 'saxes';
import { harmlessSvg, SvgFault } from './svg.js';

const svg = (inside: string, attributes = 'viewBox="0 0 200 100"') =>
  `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${attributes}>${inside}</svg>`;
const faultOf = (source: string): { line: number; message: string } => {
  try {
    harmlessSvg(source);
  } catch (error) {
    if (error instanceof SvgFault) return error;
    throw error;
  }
  throw new Error('it was taken');
};
/** Every element and attribute that is in a drawing. */
const namesIn = (text: string): Set<string> => {
  const names = new Set<string>();
  const parser = new SaxesParser({ xmlns: true });
  parser.on('error', (error) => {
    throw error;
  });
  parser.on('opentag', ({ local, attributes }) => {
    names.add(local);
    for (const name of Object.keys(attributes)) names.add(`@${name}`);
  });
  parser.write(text).close();
  return names;
};

it('what draws stays as it is', () => {
  const { text, width, height } = harmlessSvg(
    svg('<g id="walls"><path d="M0 0h200" stroke="#000"/></g><text x="1" y="9">Kitchen &amp; bar</text>'),
  );
  expect(text).toContain('<g id="walls"><path d="M0 0h200" stroke="#000"/></g>');
  expect(text).toContain('Kitchen &amp; bar');
  expect([width, height]).toEqual([200, 100]);
});

it.each([
  ['viewBox="0 0 200 100"', 200, 100],
  ['width="300" height="150"', 300, 150],
  ['width="210mm" height="297mm"', 793.7, 1122.5], // 96 pixels of CSS to the inch of 25.4 mm (CSS Values, 5.2)
  ['width="100%" height="100%" viewBox="0 0 40 20"', 40, 20],
  ['viewBox="0,0 1.5e2 1e2"', 150, 100],
])('of %s it is %d by %d', (attributes, width, height) => {
  const got = harmlessSvg(svg('', attributes));
  expect(got.width).toBeCloseTo(width, 1);
  expect(got.height).toBeCloseTo(height, 1);
});

it('what its program wrote beside it, animations, filters and foreign parts are left out', () => {
  const { text } = harmlessSvg(
    svg(
      `<metadata><x:a xmlns:x="urn:x"><script2/></x:a></metadata><filter id="f"/><foreignObject><p/></foreignObject>
       <rect width="1" height="1" x:label="a" xmlns:x="urn:x"><animate attributeName="x"/></rect>`,
    ),
  );
  expect([...namesIn(text)].sort()).toEqual(['@height', '@viewBox', '@width', '@xmlns', 'rect', 'svg']);
});

it.each([
  ['a script', '<script>alert(1)</script>', /holds “script”/],
  ['a script in something left out', '<metadata><script/></metadata>', /holds “script”/],
  ['a script of another name space', '<x:script xmlns:x="urn:x"/>', /holds “script”/],
  ['what reacts', '<rect onload="alert(1)"/>', /reacts by “onload”/],
  ['what reacts, in capitals', '<rect ONCLICK="alert(1)"/>', /reacts by “ONCLICK”/],
  ['a picture of elsewhere', '<image href="http://192.0.2.7/a.png"/>', /refers to “http:/],
  ['the same by its old name', '<image xlink:href="//192.0.2.7/a.png"/>', /refers to/],
  ['a file beside it', '<use href="other.svg#a"/>', /refers to “other.svg#a”/],
  ['a drawing within it', '<image href="data:image/svg+xml;base64,PHN2Zy8+"/>', /refers to “data:/],
  ['a link that acts', '<use href="javascript:alert(1)"/>', /refers to “javascript/],
  ['a fill of elsewhere', '<rect fill="url(http://192.0.2.7/#a)"/>', /refers to something outside/],
  ['a style of elsewhere', '<rect style="fill:url( \'//192.0.2.7/#a\' )"/>', /refers to something outside/],
  ['a sheet of elsewhere', '<style>@import "http://192.0.2.7/a.css";</style>', /refers to something outside/],
  ['a sheet between marks of data', '<style><![CDATA[a{b:url(x)}]]></style>', /refers to something outside/],
  ['letters that are escaped', '<rect style="fill:u\\72l(http://192.0.2.7/)"/>', /escaped letters/],
  ['letters that are escaped, in an attribute', '<rect fill="u\\72l(http://192.0.2.7/)"/>', /escaped/],
  [
    'a comment within a word',
    '<rect style="fill:ur/**/l(http://192.0.2.7/)"/>',
    /refers to something outside/,
  ],
  ['a set of pictures', '<rect style="fill:image-set(\'a.png\' 1x)"/>', /refers to something outside/],
])('%s is refused', (_, inside, says) => expect(faultOf(svg(`\n\n${inside}`)).message).toMatch(says));

it('a fault names its line', () => {
  expect(faultOf(svg('\n<g>\n<rect onload="a"/></g>')).line).toBe(3);
  expect(faultOf(svg('\n<g>\n<rect></g>')).line).toBe(3);
});

it.each([
  ['another document', '<html xmlns="http://www.w3.org/1999/xhtml"/>', /not an SVG/],
  ['one of no name space', '<svg width="1" height="1"/>', /not an SVG/],
  ['no end', '<svg xmlns="http://www.w3.org/2000/svg">', /well-formed/],
  ['words', 'hello', /well-formed/],
  ['nothing', '', /well-formed|empty/],
  ['its own entities', '<!DOCTYPE svg [<!ENTITY a "b">]><svg/>', /entities/],
  ['an entity that nobody has defined', svg('<text>&a;</text>'), /well-formed/],
  ['no size', svg('', ''), /how large/],
  ['a size of nothing', svg('', 'width="0" height="4"'), /how large/],
  ['a size of less than nothing', svg('', 'viewBox="0 0 -4 4"'), /how large/],
  ['a thread', svg('', 'width="100000" height="1"'), /how large/],
  ['a tower', svg('<g>'.repeat(5000) + '</g>'.repeat(5000)), /levels deep/],
  ['a tower of what is left out', svg('<x>'.repeat(5000) + '</x>'.repeat(5000)), /levels deep/],
])('%s is refused', (_, source, says) => expect(faultOf(source).message).toMatch(says));

it('a document type without definitions is no harm', () => {
  const type =
    '<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd">';
  expect(harmlessSvg(`<?xml version="1.0"?>${type}${svg('<rect/>')}`).text).toContain('<rect/>');
});

const tenfold = (from: string, to: string, by: string) =>
  `<g id="${to}">${by.replace('#', `#${from}`).repeat(10)}</g>`;
it.each([
  ['used', '<use href="#"/>'],
  ['as a fill', '<rect fill="url(#)"/>'],
  ['by style', '<rect style="fill: url( &quot;#&quot; )"/>'],
])('parts that are %s by parts, ten by ten, are refused before anybody draws 10^8 of them', (_, by) => {
  const levels = Array.from({ length: 8 }, (_x, i) => tenfold(`a${i}`, `a${i + 1}`, by)).join('');
  expect(faultOf(svg(`<g id="a0"><rect/></g>${levels}`)).message).toMatch(/more than 100000 parts/);
});
it('the same by the rules of a style sheet', () => {
  const rules = Array.from({ length: 8 }, (_, i) => `g > .c${i + 1}:hover, x { fill: url(#p${i}) }`).join(
    '\n',
  );
  const patterns = Array.from(
    { length: 8 },
    (_, i) => `<pattern id="p${i + 1}">${`<rect class="b c${i + 1}"/>`.repeat(10)}</pattern>`,
  ).join('');
  expect(
    faultOf(svg(`<style>${rules}</style><pattern id="p0"><rect/></pattern>${patterns}`)).message,
  ).toMatch(/more than 100000 parts/);
});
it('a hatch that many rooms are filled with, and a circle of uses, are none', () => {
  const rooms = '<rect class="room"/>'.repeat(2000);
  expect(
    harmlessSvg(svg(`<style>.room{fill:url(#h)}</style><pattern id="h"><path d="M0 0"/></pattern>${rooms}`))
      .width,
  ).toBe(200);
  expect(harmlessSvg(svg('<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>')).width).toBe(200);
});

it('pictures within it are handed out to be looked at', () => {
  const { embedded } = harmlessSvg(svg('<image href="data:image/png;base64,AAEC"/>'));
  expect(embedded).toEqual([Buffer.from([0, 1, 2])]);
});

it('whatever is taken has nothing but what draws in it, and is taken again as it is', () => {
  const name = fc.constantFrom(
    ...'g rect use style image script foreignObject animate set a x:y metadata text filter handler'.split(
      ' ',
    ),
  );
  const attribute = fc.record({
    key: fc.constantFrom(
      ...'href xlink:href onload onClick style fill id class d x xml:space xml:base src x:href'.split(' '),
    ),
    value: fc.constantFrom(
      ...['#a', 'a', 'url(#a)', 'url(//b)', 'javascript:a', 'data:image/png;base64,AAAA', '"<>&\'', '\\75'],
    ),
  });
  const element: fc.Memo<string> = fc.memo((n) =>
    fc
      .record({
        name,
        attributes: fc.uniqueArray(attribute, { selector: (a) => a.key, maxLength: 3 }),
        inside: n > 1 ? fc.array(element(n - 1), { maxLength: 3 }) : fc.constant(['words &lt; &amp;']),
      })
      .map(({ name, attributes, inside }) => {
        const given = attributes.map(
          ({ key, value }) =>
            ` ${key}="${value.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/"/g, '&quot;')}"`,
        );
        return `<${name}${given.join('')}>${inside.join('')}</${name}>`;
      }),
  );
  let taken = 0;
  fc.assert(
    fc.property(element(3), (inside) => {
      const source = svg(inside, 'width="4" height="4" xmlns:x="urn:x"');
      let text: string;
      try {
        ({ text } = harmlessSvg(source));
      } catch (error) {
        if (error instanceof SvgFault) return;
        throw error;
      }
      taken++;
      for (const one of namesIn(text))
        expect(one).toMatch(
          /^(svg|g|rect|use|style|image|text|@(href|style|fill|id|class|d|x|xml:space|src|width|height|viewBox|xmlns))$/,
        );
      expect(text).not.toMatch(/\/\/b|href="(?!#|data:image\/png)|\\75/);
      expect(harmlessSvg(text).text).toBe(text);
    }),
    { numRuns: 1000 },
  );
  expect(taken).toBeGreaterThan(100);
});
