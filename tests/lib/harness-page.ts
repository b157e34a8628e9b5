import { build } from 'esbuild';
import path from 'node:path';
import type { Browser, Page } from 'playwright-core';
import type * as harness from './compositor-harness';

export type Harness = typeof harness;

/** A page that has the compositor and nothing else. */
export async function harnessPage(browser: Browser, folder: string): Promise<Page> {
  const { outputFiles } = await build({
    entryPoints: [path.join(folder, 'compositor-harness.ts')],
    bundle: true,
    write: false,
    format: 'iife',
    globalName: 'harness',
    target: 'es2023',
    logLevel: 'warning',
    // The player of animations comes along with the alerts' pictures, and is not used here.
    loader: { '.wasm': 'empty' },
  });
  const page = await browser.newPage();
  // Encoders are for pages of a place that is trusted, such as this machine's own.
  await page.route('**/*', (route) => route.fulfill({ contentType: 'text/html', body: '' }));
  await page.goto('http://localhost/');
  await page.evaluate(`${outputFiles[0].text};globalThis.harness = harness;`);
  return page;
}
