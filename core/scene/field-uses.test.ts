import { expect, test } from 'vitest';
import { PLAIN_ALERT_RULE } from '../show/audience-records';
import { documentOf } from '../show/document';
import { DEFAULT_TEXT_STYLE, type AnyRecord } from '../show/records';
import { sampleLayer, sampleScene, sampleShow } from '../show/sample-show';
import { listFields } from './field-uses';

const text = (id: string, sceneId: string | null, words: string) =>
  sampleLayer(id, sceneId, 0, { content: { type: 'text', text: words, style: DEFAULT_TEXT_STYLE } });

test('missing words first, then empty ones that are used, then the rest; each says where it is used', () => {
  const rule = {
    ...{ kind: 'alertRule', id: 'r', showId: 'show', name: 'New follower', position: 0, ...PLAIN_ALERT_RULE },
    ...{ event: 'follow', text: '{{name}} of {{town}} greets {{host}}' },
  } as AnyRecord;
  const document = documentOf([
    { ...sampleShow, fields: { host: 'lampwright', unused: '', guest: '' } },
    sampleScene('Talk'),
    text('Title', 'Talk', '{{host}} and {{ guest }}: {{latest.donor}}'),
    text('Badge', null, '{{host}}'),
    rule,
  ]);
  expect(listFields(document)).toEqual([
    { name: 'town', value: null, uses: ['New follower'] },
    { name: 'guest', value: '', uses: ['Talk: Title'] },
    {
      name: 'host',
      value: 'lampwright',
      uses: ['Badge', 'Talk: Title', 'New follower'],
    },
    { name: 'unused', value: '', uses: [] },
  ]);
});

test('what events keep up is not missing, but what only alerts know is when a layer names it', () => {
  const document = documentOf([
    { ...sampleShow, fields: {} },
    sampleScene('Talk'),
    text('Title', 'Talk', '{{evening.money}} {{amount}} {{goal.none.percent}}'),
  ]);
  expect(listFields(document).map(({ name, value }) => [name, value])).toEqual([
    ['amount', null],
    ['goal.none.percent', null],
  ]);
});
