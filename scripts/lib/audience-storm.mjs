// A storm of viewers during a rehearsal: chat without pause, and every minute a thousand events within ten seconds.
import path from 'node:path';
import Sqlite from 'better-sqlite3';
import { StudioClient } from './studio-client.mjs';
import { byTurns } from './by-turns.mjs';

const CHAT_PER_SECOND = 50;
const STORM = { count: 1000, seconds: 10 };
const EVERY_SECONDS = 60;
const PIECE_SECONDS = 30;
/** Of each turn so much is left out of the count: what was there before has to go, or to come. */
const SETTLE_SECONDS = 6;

const wait = (seconds) => new Promise((resolve) => setTimeout(resolve, seconds * 1000));
const at = (platform) => new StudioClient(platform.watchUrl.replace(/\/watch$/, ''));
const post = (platform, form) =>
  at(platform)
    .form('/storm', form)
    .then((r) => r.json());

/** Chat for so long; in pieces, since a request that is answered only after minutes is given up by its sender. */
async function chat(platform, seconds, seed) {
  for (let left = seconds; left > 0; left -= PIECE_SECONDS) {
    const piece = Math.min(left, PIECE_SECONDS);
    await post(platform, { count: CHAT_PER_SECOND * piece, seconds: piece, seed: seed + left, chat: 1 });
  }
}
const thousand = (platform, n) => post(platform, { ...STORM, seed: 100 + n, chat: 0 });

/** What platforms have sent, and what the database has of it. */
async function countBothSides(platforms, data) {
  await wait(1.5);
  const sent = await Promise.all(platforms.map((p) => at(p).json('/sent')));
  const total = sent.flatMap((kinds) => Object.values(kinds)).reduce((a, b) => a + b, 0);
  const database = new Sqlite(path.join(data, 'dolomite.sqlite'), { readonly: true });
  const { listed, different } = database
    .prepare(
      "SELECT count(*) AS listed, count(DISTINCT platform || '/' || event_id) AS different FROM audience_entry WHERE platform <> 'test'",
    )
    .get();
  database.close();
  return { sent: total, listed, different };
}

/** @returns a function that waits for the end and counts both sides */
export function startStorm(platforms, seconds, data) {
  const running = [chat(platforms[0], seconds, 3)];
  let storms = 0;
  const storm = () => running.push(thousand(platforms[1], ++storms));
  storm();
  const timer = setInterval(storm, EVERY_SECONDS * 1000);
  return async () => {
    clearInterval(timer);
    await Promise.all(running);
    return { storms, ...(await countBothSides(platforms, data)) };
  };
}

/**
 * A minute with the storm, a minute without, and so on: what the storm costs, whatever else the machine does meanwhile.
 *
 * @param look gives the counts of pictures until now, `{ due, composed, late }`
 * @param clear takes the alerts that still wait off the picture
 */
export async function stormByTurns(platforms, seconds, data, { look, clear }) {
  let storms = 0;
  const counted = await byTurns({
    seconds,
    each: EVERY_SECONDS,
    // Chat ends before the turn does: it is counted while it goes on.
    uncounted: 4,
    settle: { with: SETTLE_SECONDS, without: SETTLE_SECONDS },
    look,
    begin: (n) => [thousand(platforms[1], ++storms), chat(platforms[0], EVERY_SECONDS - 4, 3 + 2000 * n)],
    end: clear,
  });
  return { storms, ...(await countBothSides(platforms, data)), ...counted };
}
