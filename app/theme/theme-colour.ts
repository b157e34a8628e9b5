let theme: string | undefined;
const colours = new Map<string, string>();

/** One of the theme's colours, as a canvas takes it. Kept: asked for again and again, the browser would resolve all styles. */
export function themeColour(name: string): string {
  const root = document.documentElement;
  if (root.dataset.theme !== theme) {
    theme = root.dataset.theme;
    colours.clear();
  }
  let colour = colours.get(name);
  if (colour === undefined) {
    colour = getComputedStyle(root).getPropertyValue(`--${name}`).trim();
    colours.set(name, colour);
  }
  return colour;
}
