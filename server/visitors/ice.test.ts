import { createHmac } from 'node:crypto';
import { expect, test } from 'vitest';
import { Ice } from './ice';

function iceOf() {
  const settings = new Map<string, string>();
  const secrets = new Map<string, string>();
  const ice = new Ice({
    settings: {
      get: (name) => settings.get(name) ?? null,
      set: (name, value) => void (value === null ? settings.delete(name) : settings.set(name, value)),
    },
    secrets: {
      get: (subject) => secrets.get(subject) ?? null,
      set: (subject, value) => void secrets.set(subject, value),
      remove: (subject) => void secrets.delete(subject),
    },
    now: () => 1_700_000_000_000,
  });
  return { ice, settings };
}

test('nothing set: everybody must be reached directly', () => {
  const { ice } = iceOf();
  expect(ice.servers()).toEqual([]);
  expect(ice.facts()).toEqual({ stun: [], turn: [], user: '', secret: false });
});

test('a relay with a shared secret: a name that ends, and its proof; the secret is nowhere in it', () => {
  const { ice, settings } = iceOf();
  ice.set({ stun: 'stun.example', turn: 'turn.example', user: '', secret: 'hush' });
  const username = String(1_700_000_000 + 43_200);
  expect(ice.servers()).toEqual([
    { urls: ['stun:stun.example'] },
    {
      urls: ['turn:turn.example'],
      username,
      credential: createHmac('sha1', 'hush').update(username).digest('base64'),
    },
  ]);
  expect([...settings.values()].join()).not.toContain('hush');
  expect(JSON.stringify(ice.facts())).not.toContain('hush');
  // The secret stays when the form comes without one.
  ice.set({ stun: '', turn: 'turn.example', user: 'own', secret: '' });
  expect(ice.servers()).toEqual([{ urls: ['turn:turn.example'], username: 'own', credential: 'hush' }]);
  // Without a relay there is nothing to keep.
  ice.set({ stun: '', turn: '', user: '', secret: '' });
  expect(ice.facts().secret).toBe(false);
});

test('mistakes are said, and nothing changes', () => {
  const { ice } = iceOf();
  expect(() => ice.set({ stun: 'http://x', turn: '', user: '', secret: '' })).toThrow(/no address of a STUN/);
  expect(() => ice.set({ stun: '', turn: 'turn.example', user: '', secret: '' })).toThrow(/wants a password/);
  expect(ice.servers()).toEqual([]);
});
