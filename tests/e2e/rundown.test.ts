/** The evening by its rundown: planned, walked by one key, moved on by itself, and told afterwards. */
import { en } from '../../app/words/en';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { documentOf, findRecord, recordsOf } from '../../core/show/document';
import type { SegmentRecord } from '../../core/show/rundown-records';
import { eventually } from '../lib/relay-process';
import { goTo, growing, StudioFixture } from '../lib/studio-fixture';

let fixture: StudioFixture;
let page: Page;
beforeAll(async () => {
  fixture = await StudioFixture.start();
  // The evening's own talk has words in it that a poll would count.
  await fixture.quiet();
  page = await fixture.open('plan');
}, 120_000);
afterAll(async () => {
  const { pageErrors } = fixture;
  await fixture?.stop();
  expect(pageErrors).toEqual([]);
});

const document = async () => documentOf(await fixture.records());
const segments = async () => recordsOf(await document(), 'segment');
const segment = async (id: string) => findRecord(await document(), 'segment', id) as SegmentRecord;
const onAir = async () => (await fixture.health()).desk?.onAirSceneId;
const rows = () => page.getByRole('list', { name: 'Rundown' });
const row = (name: string) => rows().getByRole('button', { name: new RegExp(`^${name}`) });
const onAirRow = () => page.locator('.air-segment[data-standing=on]');
/** Away from every control: the keyboard is the studio's. */
const letGo = () => page.evaluate(() => (globalThis.document.activeElement as HTMLElement | null)?.blur());

describe('Plan', () => {
  test('a segment is changed where it is chosen, and the times below it follow', async () => {
    await row('Welcome').click();
    const length = page.getByLabel('Planned length');
    await length.fill('soon');
    await page.getByText(/^Write a length like/).waitFor();
    await length.fill('6:30');
    await length.press('Enter');
    await expect.poll(async () => (await segment('sg-welcome')).plannedSeconds).toBe(390);
    await page.getByText('1:33:30 planned').waitFor();
    await page.getByLabel('Scene', { exact: true }).click();
    await page.getByRole('option', { name: 'Break' }).click();
    await expect.poll(async () => (await segment('sg-welcome')).sceneId).toBe('sc-break');
    await letGo();
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
    await expect
      .poll(async () => await segment('sg-welcome'))
      .toMatchObject({ plannedSeconds: 240, sceneId: 'sc-talk' });
  });

  test('moved by the keyboard, doubled and removed by its menu, and all of it taken back', async () => {
    const order = async () => (await segments()).map(({ name }) => name);
    const before = await order();
    await rows().getByRole('button', { name: 'More for Break' }).click();
    await page.getByRole('menuitem', { name: 'Move up' }).click();
    await expect.poll(async () => (await order()).indexOf('Break')).toBe(before.indexOf('Break') - 1);
    await rows().getByRole('button', { name: 'More for Break' }).click();
    await page.getByRole('menuitem', { name: 'Duplicate' }).click();
    await expect.poll(async () => (await order()).length).toBe(before.length + 1);
    await letGo();
    for (let i = 0; i < 2; i++) await page.keyboard.press('Control+z');
    await expect.poll(order).toEqual(before);
  });

  test('a table from a spreadsheet is looked at before it is taken', async () => {
    await page.getByRole('button', { name: 'More for Tonight' }).click();
    await page.getByRole('menuitem', { name: 'Paste a table…' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByLabel('Rows').fill('name,scene,length\nEncore,Game,10:00\nAfter,Nowhere,2:00');
    await dialog.getByText('2 segments').waitFor();
    await dialog.getByText('Row 2: there is no scene “Nowhere”.').waitFor();
    await dialog.getByRole('button', { name: 'Add them' }).click();
    await row('Encore').waitFor();
    expect((await segments()).find(({ name }) => name === 'Encore')).toMatchObject({
      ...{ sceneId: 'sc-game', plannedSeconds: 600 },
    });
    await letGo();
    await page.keyboard.press('Control+z');
    await row('Encore').waitFor({ state: 'hidden' });
  });

  test('what cannot run is said, with a press that mends it', async () => {
    const before = await segment('sg-climb');
    await fixture.edit('Spoil', [{ ...before, end: { type: 'clip' }, poseId: 'gone' }]);
    const checks = page.getByRole('region', { name: 'Before this can run' });
    await checks.getByText('First climb: nothing in its scene ends as a clip').waitFor();
    await checks.getByRole('button', { name: 'By hand' }).click();
    await checks.getByText('First climb: its pose is gone').waitFor();
    await checks.getByRole('button', { name: 'Clear' }).click();
    await checks.getByText('Everything a rundown wants is there.').waitFor();
    expect(await segment('sg-climb')).toMatchObject({ end: { type: 'hand' }, poseId: null });
  });

  test('titles and cues are made here and tried here', async () => {
    await page.getByRole('radio', { name: 'Titles' }).click();
    await page.getByRole('button', { name: 'Show A roof for Hut Nine', exact: true }).click();
    await page
      .locator('.title-row[data-on=true]')
      .filter({ has: page.getByLabel('Name') })
      .first()
      .waitFor();
    // One waits for it to leave.
    const bank = page.locator('.title-row');
    const before = await bank.count();
    await page.getByRole('button', { name: en.plan.addTitles }).click();
    await page.getByRole('menuitem', { name: en.plan.pasteTitles }).click();
    await page.getByLabel(en.plan.pasteTitlesField).fill('Juno Fell\tSignal keeper\t2\nAsh;Driver');
    await page.getByText('2 titles').waitFor();
    await page.getByRole('button', { name: en.plan.pasteTake }).click();
    await expect.poll(() => bank.count()).toBe(before + 2);
    await page.getByRole('button', { name: 'Show Juno Fell after the one that is on' }).click();
    const queue = page.getByRole('region', { name: en.plan.queuedTitles });
    await queue.getByText('Juno Fell').waitFor();
    await page.getByRole('button', { name: 'Hide title' }).click();
    await page.locator('.title-row[data-on=true][aria-label="Juno Fell"]').waitFor();
    await queue.waitFor({ state: 'hidden' });
    await page.getByRole('button', { name: 'Hide title' }).click();
    await page.getByRole('radio', { name: 'Cues' }).click();
    await page.getByRole('button', { name: 'Add cue' }).click();
    const cue = page.getByRole('region', { name: 'New cue' });
    await cue.getByRole('button', { name: 'Add marker' }).click();
    await cue.getByLabel('Command').click();
    await page.getByRole('option', { name: 'Run a cue' }).click();
    await expect
      .poll(async () => recordsOf(await document(), 'cue').find(({ name }) => name === 'New cue')?.steps[0])
      .toMatchObject({ press: { command: 'cue', params: { cueId: 'cu-thanks' } } });
    // One that would never end is refused, and stays as it was.
    await cue.getByLabel('Cue', { exact: true }).click();
    await page.getByRole('option', { name: 'New cue' }).click();
    await page.getByText(/^It would call itself/).waitFor();
    await cue.getByRole('button', { name: 'Remove New cue' }).click();
  });
});

describe('on air', () => {
  test('Enter walks it; levels and mutes of each segment are set, and not written into the show', async () => {
    await goTo(page, 'On air');
    await letGo();
    await page.keyboard.press('Enter');
    await onAirRow().filter({ hasText: 'Countdown' }).waitFor();
    await expect.poll(onAir).toBe('sc-start');
    await page.keyboard.press('Enter');
    await onAirRow().filter({ hasText: 'Welcome' }).waitFor();
    await page.getByText('the last sheets of tin').waitFor();
    await expect.poll(onAir).toBe('sc-talk');
    expect(findRecord(await document(), 'channel', 'ch-music')?.gainDb).toBe(-10);
    await page.getByText('1 level differs from the start').waitFor();
    await page.getByRole('button', { name: 'Back to start' }).click();
    await page.getByText('1 level differs from the start').waitFor({ state: 'hidden' });
    await page.keyboard.press('Shift+Enter');
    await onAirRow().filter({ hasText: 'Countdown' }).waitFor();
  });

  test('a scene called freely makes it wait; Take comes back into it', async () => {
    await letGo();
    await page.keyboard.press('Shift+2');
    await page.getByText(/^Rundown waits at Countdown/).waitFor();
    await page.getByRole('button', { name: /^Take/ }).click();
    await onAirRow().filter({ hasText: 'Welcome' }).waitFor();
    await page.getByText(/^Rundown waits/).waitFor({ state: 'hidden' });
    await page.getByRole('button', { name: 'Back', exact: true }).click();
    await page.getByText(/^Rundown waits at Welcome/).waitFor();
  });

  test('a transition drawn by hand can be turned back, and is taken when it is drawn to its end', async () => {
    await letGo();
    await page.keyboard.press('Shift+4');
    await expect.poll(onAir).toBe('sc-break');
    const hand = page.getByRole('slider', { name: 'Transition by hand' });
    const before = await onAir();
    await hand.fill('50');
    await hand.press('ArrowRight');
    expect(await hand.inputValue()).toBe('52');
    await hand.fill('0');
    expect(await onAir()).toBe(before);
    await hand.fill('80');
    await hand.fill('100');
    await onAirRow().filter({ hasText: 'First climb' }).waitFor();
    await expect.poll(onAir).toBe('sc-game');
    expect(await hand.inputValue()).toBe('0');
    await page.getByRole('button', { name: 'Back', exact: true }).click();
    await expect.poll(onAir).toBe(before);
  });

  test('in two steps a scene is prepared first, and Take brings it on', async () => {
    const left = page.getByRole('region', { name: 'What to call' });
    await left.getByRole('radio', { name: 'Scenes' }).click();
    await left.getByRole('radio', { name: 'Two-step' }).click();
    const before = await onAir();
    await left.getByRole('button', { name: /^Credits/ }).click();
    await page.getByRole('region', { name: 'Next', exact: true }).getByText('Credits').waitFor();
    expect(await onAir()).toBe(before);
    await letGo();
    await page.keyboard.press('Enter');
    await expect.poll(onAir).toBe('sc-credits');
    await left.getByRole('radio', { name: 'Direct' }).click();
    // A quick cut, pressed twice, is there and back.
    await left.getByRole('radio', { name: 'Cut', exact: true }).click();
    await left.getByRole('button', { name: /^Levers/ }).click();
    await expect.poll(onAir).toBe('sc-levers');
    // Not as a double click, which counts once.
    await page.waitForTimeout(600);
    await left.getByRole('button', { name: /^Levers/ }).click();
    await expect.poll(onAir).toBe('sc-credits');
    await page.waitForTimeout(600);
    await left.getByRole('button', { name: /^Levers/ }).dblclick();
    await expect.poll(onAir).toBe('sc-levers');
    await page.waitForTimeout(600);
    expect(await onAir()).toBe('sc-levers');
    await left.getByRole('button', { name: /^Levers/ }).click();
    await expect.poll(onAir).toBe('sc-credits');
    await left.getByRole('radio', { name: en.air.own, exact: true }).click();
    await left.getByRole('radio', { name: 'Rundown' }).click();
  });

  test('a segment with a length moves on by itself, and a countdown brings on what the rundown says', async () => {
    const [start, welcome, climb] = await Promise.all(['sg-start', 'sg-welcome', 'sg-climb'].map(segment));
    const count = findRecord(await document(), 'layer', 'ly-start-count')!;
    if (count.content.type !== 'widget' || count.content.widget.of !== 'countdown')
      throw new Error('no countdown');
    await fixture.edit('Short', [
      { ...count, content: { ...count.content, widget: { ...count.content.widget, seconds: 2 } } },
      start,
      { ...welcome, plannedSeconds: 2, end: { type: 'length' } },
      climb,
    ]);
    await page.locator('.air-segment').filter({ hasText: 'Countdown' }).click();
    await onAirRow().filter({ hasText: 'Welcome' }).waitFor();
    await onAirRow().filter({ hasText: 'First climb' }).waitFor();
    await expect.poll(onAir).toBe('sc-game');
  });

  test('keys of one’s own: any command, one key, found when it is taken', async () => {
    await letGo();
    await page.keyboard.press('Shift+Slash');
    const dialog = page.getByRole('dialog', { name: 'Keys' });
    await dialog.getByRole('button', { name: 'Add a key' }).click();
    await dialog.getByLabel('Command', { exact: true }).click();
    await page.getByRole('option', { name: 'Take a scene' }).click();
    await dialog.getByLabel('Scene', { exact: true }).click();
    await page.getByRole('option', { name: 'Break' }).click();
    await dialog.getByRole('button', { name: /^Press the key/ }).click();
    await page.keyboard.press('m');
    await dialog.getByText('M calls “Add marker” already: choose another.').waitFor();
    await page.keyboard.press('Control+t');
    await dialog.getByText(/belongs to the browser/).waitFor();
    await page.keyboard.press('Numpad7');
    await dialog.getByText('Num 7').waitFor();
    await dialog.getByRole('button', { name: 'Close' }).click();
    await page.keyboard.press('Numpad7');
    await expect.poll(onAir).toBe('sc-break');
    // A letter typed into a field calls nothing.
    await goTo(page, 'Plan');
    await row('Credits').click();
    await page.getByLabel('Name', { exact: true }).press('o');
    await page.keyboard.press('Escape');
    expect(await page.evaluate(() => localStorage.getItem('dolomite.letterKeys'))).toBeNull();
  });

  test('after a reload on air the same segment is on, with its clock and levels', async () => {
    await goTo(page, 'On air');
    await fixture.client.form('/broadcast', { intent: 'lookBack' });
    await page.getByRole('button', { name: 'Add marker' }).waitFor();
    await page.locator('.air-segment').filter({ hasText: 'Break' }).click();
    await onAirRow().filter({ hasText: 'Break' }).waitFor();
    await page.getByRole('button', { name: 'Muted: Voice', exact: true }).waitFor();
    await page.getByRole('slider', { name: 'Level of Switchback Freight' }).press('Home');
    await expect
      .poll(() =>
        page.getByRole('slider', { name: 'Level of Switchback Freight' }).getAttribute('aria-valuenow'),
      )
      .toBe('-60');
    await page.reload();
    await onAirRow().filter({ hasText: 'Break' }).waitFor();
    await page.getByRole('button', { name: 'Muted: Voice', exact: true }).waitFor();
    expect(
      await page.getByRole('slider', { name: 'Level of Switchback Freight' }).getAttribute('aria-valuenow'),
    ).toBe('-60');
    expect(findRecord(await document(), 'channel', 'ch-voice')?.muted).toBe(false);
    // What is kept as start is written into the show.
    await page.getByRole('button', { name: 'Keep as start' }).click();
    await expect.poll(async () => findRecord(await document(), 'channel', 'ch-voice')?.muted).toBe(true);
    await fixture.client.form('/broadcast', { intent: 'stop' });
  });

  test('another window that takes the desk over goes on from where the show stands by then', async () => {
    await fixture.client.form('/broadcast', { intent: 'lookBack' });
    await page.getByRole('button', { name: 'Add marker' }).waitFor();
    const context = await fixture.browser.newContext({ viewport: { width: 1280, height: 800 } });
    await fixture.studio.signIn(context);
    const other = await context.newPage();
    growing(other);
    other.on('pageerror', (error) => fixture.pageErrors.push(error.message));
    await other.goto(`${fixture.api}/air`);
    const takeOver = other.getByRole('button', { name: 'Take over here' });
    await takeOver.waitFor();
    // After the other one was opened.
    await page.locator('.air-segment').filter({ hasText: 'Last freight' }).click();
    await onAirRow().filter({ hasText: 'Last freight' }).waitFor();
    await takeOver.click();
    await other.locator('.air-segment[data-standing=on]').filter({ hasText: 'Last freight' }).waitFor();
    await page.context().close();
    page = other;
    await expect.poll(onAir).toBe('sc-game');
    await fixture.client.form('/broadcast', { intent: 'stop' });
  });
});

describe('polls', () => {
  test('viewers of all platforms vote by words; the votes are seen, end as an event, and move the segment on', async () => {
    await goTo(page, 'Plan');
    await page.getByRole('radio', { name: 'Polls' }).click();
    const poll = page.getByRole('region', { name: 'Which way over the pass?' });
    const start = poll.getByRole('button', { name: 'Start' });
    const end = poll.getByRole('button', { name: 'End the poll' });
    await start.or(end).waitFor();
    if (await end.isVisible()) await end.click();
    await start.click();
    await end.waitFor();
    for (const [platform, viewer, text] of [
      ['larch', 'mossbell', 'left left left'],
      ['larch', 'mossbell', 'no, the long way'],
      ['cairn', 'mossbell', '1'],
      ['cairn', 'wetslate', 'what a night'],
    ])
      await fixture.standIn(platform).post('chat', { viewer, text });
    await expect
      .poll(() => poll.getByText(/ votes?$/).allTextContents())
      .toEqual(['1 vote', '0 votes', '1 vote']);
    // A server that is started anew counts on.
    fixture.studio.children.get('web')!.kill('SIGKILL');
    // It finds its platforms again after a moment; said twice it is one voice all the same.
    await eventually(async () => {
      await fixture.standIn('larch').post('chat', { viewer: 'pinecairn', text: '3' });
      return (await poll.getByText(/ votes?$/).allTextContents()).join() === '1 vote,0 votes,2 votes';
    });
    const vote = await segment('sg-vote');
    await fixture.edit('Moved on by the poll', [{ ...vote, presses: [], end: { type: 'poll' } }]);
    await goTo(page, 'On air');
    await page.locator('.air-segment').filter({ hasText: 'Route vote' }).click();
    await onAirRow().filter({ hasText: 'Route vote' }).waitFor();
    await goTo(page, 'Plan');
    await page.getByRole('radio', { name: 'Polls' }).click();
    await poll.getByRole('button', { name: 'End the poll' }).click();
    await goTo(page, 'On air');
    await onAirRow().filter({ hasText: 'Second climb' }).waitFor();
    await page.getByText('asks “Which way over the pass?”').first().waitFor();
  });
});
