/** Another browser than the studio's own: Debian's Firefox, driven by WebDriver BiDi. */
import puppeteer, { type Browser, type Page } from 'puppeteer-core';

export async function firefoxPage(width: number, height: number): Promise<{ browser: Browser; page: Page }> {
  const browser = await puppeteer.launch({
    ...{ browser: 'firefox', executablePath: '/usr/bin/firefox-esr', headless: true },
    // Nothing but what is asked of it goes out.
    extraPrefsFirefox: {
      ...{ 'network.captive-portal-service.enabled': false, 'app.update.auto': false },
      // Its own test camera and microphone, without asking.
      ...{ 'media.navigator.streams.fake': true, 'media.navigator.permission.disabled': true },
      'media.autoplay.default': 0,
    },
  });
  const page = await browser.newPage();
  await page.setViewport({ width, height });
  page.setDefaultTimeout(60_000);
  return { browser, page };
}
