/** Drives Audience as host, viewers and platforms do. One studio and one page for a test file: imported bindings are live. */
import type { Page } from 'playwright-core';
import { expect } from 'vitest';
import type { AlertRuleRecord } from '../../core/show/audience-records';
import type { AnyRecord } from '../../core/show/records';
import type { ListedEntry } from '../../protocol/audience-bus';
import { SELDOM, StudioFixture } from './studio-fixture';

export let fixture: StudioFixture;
export let page: Page;

/** @param prepare changes the show before it is opened */
export async function openAudience(
  prepare: () => Promise<void> = async () => undefined,
  fps = SELDOM,
): Promise<void> {
  fixture = await StudioFixture.start({}, { fps });
  await prepare();
  page = await fixture.open('audience');
  await fixture.quiet();
}

/** Nothing may have failed in the page meanwhile. */
export async function closeAudience(): Promise<void> {
  const { pageErrors } = fixture;
  await fixture.stop();
  expect(pageErrors).toEqual([]);
}

export const records = (): Promise<AnyRecord[]> => fixture.records();

export const rules = async () =>
  (await records()).filter((r): r is AlertRuleRecord => r.kind === 'alertRule');

export const standIn = (name: string) => fixture.standIn(name);

/** All entries of the evening that the query asks for, oldest first. */
export async function entries(query: Record<string, string> = {}): Promise<ListedEntry[]> {
  const all: ListedEntry[] = [];
  for (let before = ''; ;) {
    const search = new URLSearchParams({ ...query, ...(before && { before }) });
    const part = (await fixture.client.json(`/entries?${search}`)) as {
      entries: ListedEntry[];
    };
    all.unshift(...part.entries);
    if (part.entries.length === 0) return all;
    before = String(part.entries[0].event.seq);
  }
}

export const log = () => page.getByRole('log', { name: 'Chat and events' });
export const tab = (name: string) => page.getByRole('radio', { name, exact: true }).click();
