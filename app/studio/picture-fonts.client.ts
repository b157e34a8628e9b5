import bricolage from '@fontsource-variable/bricolage-grotesque/files/bricolage-grotesque-latin-wght-normal.woff2?url';
import hanken from '@fontsource-variable/hanken-grotesk/files/hanken-grotesk-latin-wght-normal.woff2?url';
import jetbrains from '@fontsource-variable/jetbrains-mono/files/jetbrains-mono-latin-wght-normal.woff2?url';

/** The faces that words on the picture are drawn with, for the engine's workers. */
export const PICTURE_FONTS = [
  { family: 'Bricolage Grotesque Variable', url: new URL(bricolage, location.origin).href },
  { family: 'Hanken Grotesk Variable', url: new URL(hanken, location.origin).href },
  { family: 'JetBrains Mono Variable', url: new URL(jetbrains, location.origin).href },
];
