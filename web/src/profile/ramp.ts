type Colour = [number, number, number];

const parse = (hex: string): Colour => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16)) as Colour;

/** From paper to ink, by the design; on the dark sheet from dark to light. */
const LIGHT = ['#F0EBDF', '#E8E5D9', '#AAC3C2', '#246A76', '#0C4654', '#0E1820'].map(parse);
const DARK = ['#20262B', '#2A3338', '#2E5C66', '#5FB7C4', '#A9DCE2', '#F1F7F6'].map(parse);
/** What flows back has a colour of its own. */
const BACK_LIGHT = ['#F0EBDF', '#E7C79A', '#B4571F'].map(parse);
const BACK_DARK = ['#20262B', '#7A4A2A', '#E59A5F'].map(parse);

/** The colour of a power between the lowest and the highest of a period; small powers stay apart from none. */
export function ramp(low: number, high: number, dark: boolean): (watts: number) => Colour {
  const [into, back] = dark ? [DARK, BACK_DARK] : [LIGHT, BACK_LIGHT];
  return (watts) =>
    watts >= 0 || low >= 0 ? mixed(into, high > 0 ? Math.max(0, watts) / high : 0) : mixed(back, watts / low);
}

function mixed(colours: readonly Colour[], share: number): Colour {
  const at = Math.sqrt(Math.min(1, Math.max(0, share))) * (colours.length - 1);
  const [a, b] = [colours[Math.floor(at)], colours[Math.ceil(at)]] as [Colour, Colour];
  return a.map((v, i) => Math.round(v + (at - Math.floor(at)) * ((b[i] as number) - v))) as Colour;
}
