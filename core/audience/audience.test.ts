import { describe, expect, test } from 'vitest';
import { AlertQueue, alertPresence } from './alert-queue';
import { AudienceLog, type ChatMessage, type FollowEvent } from './events';

const chat = (id: string, atMs: number): ChatMessage => ({
  type: 'chat',
  id,
  platform: 'larch',
  viewer: 'mossbell',
  colour: null,
  text: 'hi',
  atMs,
});
const follow = (id: string): FollowEvent => ({
  type: 'follow',
  id,
  platform: 'larch',
  viewer: `v${id}`,
  atMs: 0,
  test: false,
});
const rule = {
  kind: 'alertRule',
  id: 'r',
  showId: 's',
  name: 'Follow',
  position: 0,
  event: 'follow',
  text: '{{name}} follows',
  seconds: 4,
} as const;

describe('audience log', () => {
  test('drops duplicates, sorts late arrivals, forgets the oldest', () => {
    const log = new AudienceLog(3);
    expect([chat('a', 10), chat('c', 30), chat('b', 20), chat('a', 10)].map((e) => log.add(e))).toEqual([
      true,
      true,
      true,
      false,
    ]);
    expect(log.list().map((e) => e.id)).toEqual(['a', 'b', 'c']);
    log.add(chat('d', 40));
    expect(log.list().map((e) => e.id)).toEqual(['b', 'c', 'd']);
  });
});

describe('alert queue', () => {
  test('shows one after another with a pause between', () => {
    const queue = new AlertQueue();
    queue.add(follow('1'), rule);
    queue.add(follow('2'), rule);
    expect(queue.at(10)?.text).toBe('v1 follows');
    expect(queue.at(13.9)?.id).toBe('1');
    expect(queue.at(14)).toBeNull();
    expect(queue.at(14.2)).toBeNull();
    expect(queue.at(14.4)?.id).toBe('2');
    expect(queue.at(30)).toBeNull();
  });
  test('a flood does not show for an hour', () => {
    const queue = new AlertQueue();
    for (let i = 0; i < 500; i++) queue.add(follow(String(i)), rule);
    expect(queue.waiting).toBe(50);
    expect(queue.at(0)?.id).toBe('450');
  });
  test('comes in and leaves', () => {
    const alert = { id: '1', text: '', startedAt: 10, seconds: 4 };
    expect(alertPresence(alert, 10)).toBe(0);
    expect(alertPresence(alert, 12)).toBe(1);
    expect(alertPresence(alert, 13.99)).toBeLessThan(0.2);
  });
});
