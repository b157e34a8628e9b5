import { describe, expect, test } from 'vitest';
import { COMMAND_WORDS } from '../core/commands/command-words';
import { COMMAND_IDS, commandShape } from '../core/commands/commands';
import { readPress } from './programme-schemas';

const GOOD: Record<string, string | number | boolean> = {
  ...{ sceneId: 'a', poseId: 'p', channelId: 'c', musicId: 'c', effectId: 'e', segmentId: 's' },
  ...{
    titleId: 't',
    share: 0.5,
    pollId: 'o',
    clipsId: 'i',
    requestId: 'r',
    seatId: 's',
    toSeconds: -10,
    cueId: 'q',
    gainDb: -9,
    seconds: 2,
    on: true,
    transition: 'cut',
    words: 'x',
  },
};

describe('every command', () => {
  test.each(COMMAND_IDS)('%s has a name, and is taken with just what it wants', (id) => {
    const { required, optional } = commandShape(id);
    expect(COMMAND_WORDS[id][0].length).toBeGreaterThan(2);
    const of = (names: readonly string[]) => ({
      command: id,
      params: Object.fromEntries(names.map((name) => [name, GOOD[name]])),
    });
    expect(readPress(of(required))).toEqual({ press: of(required) });
    expect(readPress(of([...required, ...optional]))).toHaveProperty('press');
    for (const left of required) {
      const without = of(required.filter((name) => name !== left));
      expect(readPress(without)).toMatchObject({ problem: expect.stringContaining(left) as string });
    }
    expect(readPress({ ...of(required), params: { ...of(required).params, secret: 1 } })).toHaveProperty(
      'problem',
    );
  });
  test.each([null, 5, 'take', {}, { command: 'dance', params: {} }, { command: 'toString', params: {} }, []])(
    '%j is no press',
    (value) => expect(readPress(value)).toHaveProperty('problem'),
  );
});
