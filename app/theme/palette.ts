/** Dolomite's colours. Dusk is dark, Limestone is light; accents for words are darker on Limestone, for contrast. */
export const DUSK = {
  ground: '#14181D',
  surface: '#1C2229',
  raised: '#252C35',
  line: '#38424E',
  text: '#ECE8E1',
  quiet: '#A7AFB7',
  glacier: '#63BDBB',
  ember: '#F0633F',
  larch: '#E2AE45',
  moss: '#83B168',
  rose: '#E39A88',
  onAccent: '#10201F',
} as const;

export const LIMESTONE: Record<keyof typeof DUSK, string> = {
  ground: '#F1EEE8',
  surface: '#FBFAF7',
  raised: '#FFFFFF',
  line: '#D5CFC4',
  text: '#22272D',
  quiet: '#5C656E',
  glacier: '#1B6F6D',
  ember: '#B93A18',
  larch: '#7F5A06',
  moss: '#42702A',
  rose: '#9C3F2B',
  onAccent: '#FFFFFF',
};

/** Every colour as a CSS variable, so that canvases, drawings and styles agree in both themes. */
export function paletteCss(): string {
  const block = (colours: Record<string, string>) =>
    Object.entries(colours)
      .map(([name, value]) => `--${name}:${value}`)
      .join(';');
  return `:root,[data-theme="dark"]{${block(DUSK)};color-scheme:dark}[data-theme="light"]{${block(LIMESTONE)};color-scheme:light}`;
}
