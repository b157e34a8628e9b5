import fc from 'fast-check';
import { expect, test } from 'vitest';
import { filledRequest } from './request-text';

test('fields stand in address and body; one that is not there is left as it is written', () => {
  const request = {
    url: 'http://lights.example/scene/{{ scene }}?by={{nobody}}',
    body: '{"text":"{{words}}"}',
  };
  expect(filledRequest(request, { scene: 'red & blue', words: 'He said "go"' })).toEqual({
    url: 'http://lights.example/scene/red%20%26%20blue?by={{nobody}}',
    body: '{"text":"He said \\"go\\""}',
  });
  expect(filledRequest({ url: 'http://a/', body: 'plain {{words}}' }, { words: '"so"' }).body).toBe(
    'plain "so"',
  );
});

test('whatever a field says, the host stays the one that was allowed, and the body stays JSON', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), (words) => {
      const { url, body } = filledRequest(
        { url: 'http://a.example/{{w}}', body: '{"w":"{{w}}","n":1}' },
        { w: words },
      );
      expect(new URL(url).host).toBe('a.example');
      expect(JSON.parse(body)).toEqual({ w: words, n: 1 });
    }),
  );
});
