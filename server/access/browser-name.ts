/** Names by which browsers tell who they are, the more particular first: many name others too. */
const BROWSERS: readonly (readonly [sign: RegExp, name: string])[] = [
  [/\bEdg(?:e|A|iOS)?\//, 'Edge'],
  [/\bOPR\/|\bOpera\b/, 'Opera'],
  [/\bFirefox\/|\bFxiOS\//, 'Firefox'],
  [/\b(?:Headless)?Chrom(?:e|ium)\/|\bCriOS\//, 'Chromium or Chrome'],
  [/\bSafari\//, 'Safari'],
];
const SYSTEMS: readonly (readonly [sign: RegExp, name: string])[] = [
  [/\biPhone\b|\biPad\b/, 'iOS'],
  [/\bAndroid\b/, 'Android'],
  [/\bWindows\b/, 'Windows'],
  [/\bMac OS X\b|\bMacintosh\b/, 'macOS'],
  [/\bCrOS\b/, 'ChromeOS'],
  [/\bLinux\b|\bX11\b/, 'Linux'],
];

/** What to call a browser in a list; only words of our own, since it may say anything. */
export function browserName(userAgent: string): string {
  const find = (names: typeof BROWSERS) => names.find(([sign]) => sign.test(userAgent))?.[1];
  const [browser, system] = [find(BROWSERS), find(SYSTEMS)];
  if (!browser) return 'A program';
  return system ? `${browser} on ${system}` : browser;
}
