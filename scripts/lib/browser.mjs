// Debian's Chromium, headless, without the flags that would hide throttling of hidden pages.
import { existsSync } from 'node:fs';
import { chromium } from 'playwright-core';

const PLACES = [
  '/usr/bin/chromium',
  '/usr/bin/chromium-browser',
  '/usr/bin/google-chrome-stable',
  '/usr/bin/google-chrome',
];

export function findBrowser() {
  const chosen = process.env.DOLOMITE_CHROMIUM;
  return chosen && existsSync(chosen) ? chosen : (PLACES.find((place) => existsSync(place)) ?? null);
}

/**
 * @param {{ fakeDevices?: boolean, args?: string[], throttling?: boolean, chip?: boolean }} options fakeDevices: Chromium's
 *   own test camera, microphone and screen; chip: with the graphics chip, if this computer has one
 */
export async function launchBrowser({
  fakeDevices = true,
  args = [],
  throttling = false,
  chip = false,
} = {}) {
  const executablePath = findBrowser();
  if (!executablePath)
    throw new Error(
      'Chromium was not found: install it (Debian: apt-get install chromium) or name it in DOLOMITE_CHROMIUM.',
    );
  return chromium.launch({
    executablePath,
    // Playwright's own flags would keep hidden pages awake: a real browser does not.
    ignoreDefaultArgs: throttling
      ? [
          '--disable-background-timer-throttling',
          '--disable-backgrounding-occluded-windows',
          '--disable-renderer-backgrounding',
        ]
      : [],
    args: [
      ...(process.getuid?.() === 0 ? ['--no-sandbox'] : []),
      ...(chip ? [] : ['--disable-gpu']),
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      ...(fakeDevices
        ? [
            '--use-fake-device-for-media-stream',
            '--use-fake-ui-for-media-stream',
            '--auto-select-desktop-capture-source=Entire screen',
          ]
        : []),
      ...args,
    ],
  });
}
