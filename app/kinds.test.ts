/** Each kind has what the pages need of it: parts are found by their files, so nothing else would say that one is missing. */
import { expect, test } from 'vitest';
import { WIDGET_NAMES, WIDGETS } from '~/core/audience/widgets/widgets';
import { CHANNEL_KINDS } from '~/core/show/channel-kinds';
import { INPUT_KINDS } from '~/core/show/input-kinds';

const parts = (found: Record<string, unknown>) => Object.values(found).sort();
const named = (kinds: object) => Object.keys(kinds).sort();

test('every kind of input has its settings on Stage', () => {
  const found = import.meta.glob('./stage/inputs/*.tsx', { eager: true, import: 'part' });
  expect(
    parts(found)
      .map((part) => (part as { type: string }).type)
      .sort(),
  ).toEqual(named(INPUT_KINDS));
});

test('every kind of widget that can be set has its settings on Stage', () => {
  const found = import.meta.glob('./stage/widgets/*.tsx', { eager: true, import: 'part' });
  const set = WIDGET_NAMES.filter((name) => Object.keys(WIDGETS[name].shape).length > 0);
  expect(
    parts(found)
      .map((part) => (part as { of: string }).of)
      .sort(),
  ).toEqual([...set].sort());
});

test('every kind of channel can be added: from a device, an input or a file, or by its part', () => {
  const found = import.meta.glob('./sound/channels/*.tsx', { eager: true, import: 'part' });
  const chosen = ['computer', 'input', 'simulated'];
  const own = named(CHANNEL_KINDS).filter((name) => !chosen.includes(name));
  expect(
    parts(found)
      .map((part) => (part as { type: string }).type)
      .sort(),
  ).toEqual(own);
});
