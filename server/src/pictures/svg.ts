import { SaxesParser } from 'saxes';
import { refsIn, stylesOf, type StyleRefs } from './svgStyle.js';

/** A picture drawn as SVG, rewritten so that nothing in it acts or fetches. */
export interface HarmlessSvg {
  text: string;
  /** Its shape, in its own units. */
  width: number;
  height: number;
  /** Pictures within it, as they were encoded; whoever keeps it looks at them too. */
  embedded: Buffer[];
}

/** Thrown when an SVG is not taken, with what is wrong and in which line. */
export class SvgFault extends Error {
  override name = 'SvgFault';
  constructor(
    message: string,
    readonly line: number,
  ) {
    super(message);
  }
}

interface SvgElement {
  name: string;
  attributes: Map<string, string>;
  children: (SvgElement | string)[];
  line: number;
}

/** What draws. Everything else is left out: descriptions of the program that made it, animations, filters. */
const KEPT = new Set(
  (
    'svg g switch defs symbol use title desc path rect circle ellipse line polyline polygon text tspan textPath image ' +
    'linearGradient radialGradient stop pattern clipPath mask marker style'
  ).split(' '),
);
/** What acts: nobody has that in a plan, so the whole is refused. */
const REFUSED = new Set(['script', 'handler', 'listener']);
/** More than any floor has, and a browser draws it in a moment. */
const MOST_DRAWN = 100_000;
const DEEPEST = 100;
const EMBEDDED = /^data:image\/(?:png|jpeg);base64,([A-Za-z0-9+/=\s]*)$/;
/** Lengths in pixels of CSS (96 to the inch). */
const UNITS: Record<string, number> = {
  '': 1,
  px: 1,
  mm: 96 / 25.4,
  cm: 960 / 25.4,
  in: 96,
  pt: 96 / 72,
  pc: 16,
};

/**
 * An SVG with only what draws in it. It is read strictly as XML; definitions of entities are not.
 * @throws SvgFault where it is not well formed, has no size, acts, refers to elsewhere or draws without end
 */
export function harmlessSvg(source: string): HarmlessSvg {
  const root = parsed(source);
  const { width, height } = sizeOf(root);
  const styles = stylesOf(textsOf(root, 'style'));
  const embedded: Buffer[] = [];
  for (const element of everyElement(root)) check(element, embedded);
  throwIfEndless(root, styles);
  root.attributes.set('xmlns', 'http://www.w3.org/2000/svg');
  if (!root.attributes.has('viewBox')) root.attributes.set('viewBox', `0 0 ${width} ${height}`);
  root.attributes.set('width', String(width));
  root.attributes.set('height', String(height));
  return { text: written(root), width, height, embedded };
}

function parsed(source: string): SvgElement {
  const parser = new SaxesParser({ xmlns: true, position: true });
  const open: SvgElement[] = [];
  /** How deep in something that is left out. */
  let left = 0;
  let root: SvgElement | null = null;
  const fault = (message: string) => new SvgFault(message, parser.line);
  parser.on('error', (error) => {
    throw fault(`This is not well-formed XML: ${error.message.replace(/^[\d:]+ /, '')}`);
  });
  parser.on('doctype', (text) => {
    if (text.includes('[')) throw fault('It defines entities of its own. Save it as plain SVG.');
  });
  parser.on('opentag', ({ local, uri, attributes }) => {
    if (REFUSED.has(local))
      throw fault(`It holds “${local}”; only pictures without anything active are accepted.`);
    const isKept = KEPT.has(local) && uri === 'http://www.w3.org/2000/svg';
    if (open.length === 0 && left === 0 && !(isKept && local === 'svg'))
      throw fault('This is not an SVG: it does not begin with an svg element.');
    if (open.length + left > DEEPEST) throw fault(`It is nested more than ${DEEPEST} levels deep.`);
    if (!isKept || left > 0) {
      left++;
      return;
    }
    const element: SvgElement = { name: local, attributes: new Map(), children: [], line: parser.line };
    for (const { local: name, prefix, value } of Object.values(attributes)) {
      if (/^on/i.test(name))
        throw fault(`It reacts by “${name}”; only pictures without anything active are accepted.`);
      if (name === 'href') element.attributes.set('href', value);
      else if (name === 'src') continue;
      else if (prefix === '' || (prefix === 'xml' && name === 'space'))
        element.attributes.set(prefix ? `${prefix}:${name}` : name, value);
    }
    open.at(-1)?.children.push(element);
    root ??= element;
    open.push(element);
  });
  parser.on('closetag', () => void (left > 0 ? left-- : open.pop()));
  const text = (words: string) => void (left === 0 && open.at(-1)?.children.push(words));
  parser.on('text', text);
  parser.on('cdata', text);
  parser.write(source).close();
  if (!root) throw new SvgFault('The file is empty.', 1);
  return root;
}

/** The element and all within it. */
function* everyElement(element: SvgElement): Generator<SvgElement> {
  yield element;
  for (const child of element.children) if (typeof child !== 'string') yield* everyElement(child);
}

const textsOf = (root: SvgElement, name: string): string =>
  [...everyElement(root)]
    .filter((e) => e.name === name)
    .flatMap((e) => e.children.filter((c) => typeof c === 'string'))
    .join('\n');

/** Width and height, by its own words or else by its view box. */
function sizeOf({ attributes, line }: SvgElement): { width: number; height: number } {
  const box = (attributes.get('viewBox') ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const length = (name: string, i: 2 | 3): number => {
    const [, digits, unit = ''] =
      /^\s*([\d.]+(?:e[+-]?\d+)?)\s*([a-z]*)\s*$/i.exec(attributes.get(name) ?? '') ?? [];
    const factor = UNITS[unit.toLowerCase()];
    return digits !== undefined && factor !== undefined ? Number(digits) * factor : (box[i] ?? NaN);
  };
  const [width, height] = [length('width', 2), length('height', 3)];
  const isShape = (v: number) => Number.isFinite(v) && v > 0 && v < 1e7;
  if (!isShape(width) || !isShape(height) || width / height > 50 || height / width > 50)
    throw new SvgFault('It does not say how large it is: give it a width and a height, or a viewBox.', line);
  return { width, height };
}

/** Refuses references to anywhere but within the picture. */
function check(element: SvgElement, embedded: Buffer[]): void {
  const fault = (message: string) => new SvgFault(message, element.line);
  const href = element.attributes.get('href');
  if (href !== undefined && !href.startsWith('#')) {
    const [, base64] = (element.name === 'image' && EMBEDDED.exec(href)) || [];
    if (base64 === undefined)
      throw fault(`It refers to “${href.slice(0, 60)}”; a picture may only use what is in the file itself.`);
    embedded.push(Buffer.from(base64, 'base64'));
  }
  const words = [...element.attributes.values()];
  if (element.name === 'style') words.push(element.children.filter((c) => typeof c === 'string').join(''));
  for (const word of words) {
    // In escaped letters anything could be written that the next lines look for.
    if (word.includes('\\')) throw fault('Its style uses escaped letters. Save it as plain SVG.');
    const plain = word.replace(/\/\*[^]*?\*\//g, '').replace(/url\(\s*["']?\s*#/gi, '#');
    if (/@import|@font-face|(?:url|image|image-set|src)\s*\(/i.test(plain))
      throw fault(
        'Its style refers to something outside the file; a picture may only use what is in the file itself.',
      );
  }
}

/** Refuses a picture whose parts are used by parts that are used by parts, until nobody can draw it. */
function throwIfEndless(root: SvgElement, styles: StyleRefs): void {
  const byId = new Map<string, SvgElement>();
  for (const element of everyElement(root)) {
    const id = element.attributes.get('id');
    if (id !== undefined && !byId.has(id)) byId.set(id, element);
  }
  const counted = new Map<SvgElement, number>();
  const under = new Set<SvgElement>();
  /** What is drawn for an element, all that it refers to included; in a circle nothing is drawn. */
  const drawn = (element: SvgElement): number => {
    const known = counted.get(element);
    if (known !== undefined) return known;
    if (under.has(element)) return 0;
    if (under.size > 2 * DEEPEST)
      throw new SvgFault('Its parts refer to one another in a loop.', element.line);
    under.add(element);
    let sum = 1;
    for (const id of refsOf(element, styles)) {
      const target = byId.get(id);
      if (target) sum += drawn(target);
    }
    for (const child of element.children) if (typeof child !== 'string') sum += drawn(child);
    under.delete(element);
    if (sum > MOST_DRAWN)
      throw new SvgFault(
        `It draws more than ${MOST_DRAWN} parts. Save it with fewer, or as PNG.`,
        element.line,
      );
    counted.set(element, sum);
    return sum;
  };
  drawn(root);
}

function refsOf({ name, attributes }: SvgElement, styles: StyleRefs): string[] {
  const href = attributes.get('href');
  return [
    ...(href?.startsWith('#') ? [href.slice(1)] : []),
    ...[...attributes.values()].flatMap(refsIn),
    ...styles(name, attributes.get('id') ?? '', attributes.get('class') ?? ''),
  ];
}

const escaped = (text: string): string =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');

function written({ name, attributes, children }: SvgElement): string {
  const inside = children.map((c) => (typeof c === 'string' ? escaped(c) : written(c))).join('');
  const given = [...attributes].map(([key, value]) => ` ${key}="${escaped(value)}"`).join('');
  return inside === '' ? `<${name}${given}/>` : `<${name}${given}>${inside}</${name}>`;
}
