/** Pages that tests have open: where one fails, what was to be seen on them says more than the line it failed at. */
import type { Page } from 'playwright-core';

const pages = new Set<Page>();
/** A page that does not answer is not waited for. */
const ANSWER_MS = 3000;
const MOST_LETTERS = 3000;

export function remember(page: Page): void {
  pages.add(page);
  page.on('close', () => pages.delete(page));
}

/** Address and words of each. */
export async function whatIsSeen(): Promise<string> {
  const told = await Promise.all(
    [...pages].map(async (page) => {
      const words = page
        .locator('body')
        .innerText({ timeout: ANSWER_MS })
        .catch((error: unknown) => `does not answer: ${String(error).split('\n', 1)[0]}`);
      return `${new URL(page.url()).pathname}: ${(await words).replace(/\s+/g, ' ').slice(0, MOST_LETTERS)}`;
    }),
  );
  return told.join('\n');
}
