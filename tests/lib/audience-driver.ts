/** Drives Audience as host, viewers and platforms do. One studio and one page for a test file: imported bindings are live. */
import type { Page } from 'playwright-core';
import { expect } from 'vitest';
import type { AlertRuleRecord } from '../../core/show/audience-records';
import type { AnyRecord } from '../../core/show/records';
import type { ListedEntry } from '../../protocol/audience-bus';
import { StudioFixture } from './studio-fixture';

export let fixture: StudioFixture;
export let page: Page;

/** @param prepare changes the show before it is opened */
export async function openAudience(prepare: () => Promise<void> = async () => undefined): Promise<void> {
  fixture = await StudioFixture.start();
  await prepare();
  page = await fixture.open('audience');
  // Viewers say nothing by themselves.
  await standIn('larch').post('quiet', { on: 'yes' });
}

/** Nothing may have failed in the page meanwhile. */
export async function closeAudience(): Promise<void> {
  const { pageErrors } = fixture;
  await fixture.stop();
  expect(pageErrors).toEqual([]);
}

export const records = async (): Promise<AnyRecord[]> =>
  ((await (await fetch(`${fixture.api}/edits`)).json()) as { records: AnyRecord[] }).records;

export const rules = async () =>
  (await records()).filter((r): r is AlertRuleRecord => r.kind === 'alertRule');

/** One of the platforms that come with the demonstration. */
export function standIn(name: string) {
  const facts = fixture.studio.platforms().find((p: { name: string }) => p.name === name)!;
  const base = facts.watchUrl.replace(/\/watch$/, '');
  return {
    playUrl: facts.playUrl as string,
    post: (what: string, form: Record<string, string>) =>
      fetch(`${base}/${what}`, { method: 'POST', body: new URLSearchParams(form) }),
  };
}

/** All entries of the evening that the query asks for, oldest first. */
export async function entries(query: Record<string, string> = {}): Promise<ListedEntry[]> {
  const all: ListedEntry[] = [];
  for (let before = ''; ;) {
    const search = new URLSearchParams({ ...query, ...(before && { before }) });
    const part = (await (await fetch(`${fixture.api}/entries?${search}`)).json()) as {
      entries: ListedEntry[];
    };
    all.unshift(...part.entries);
    if (part.entries.length === 0) return all;
    before = String(part.entries[0].event.seq);
  }
}

export const log = () => page.getByRole('log', { name: 'Chat and events' });
export const tab = (name: string) => page.getByRole('radio', { name, exact: true }).click();
