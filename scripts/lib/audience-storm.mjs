// A storm of viewers during a rehearsal: chat without pause, and every minute a thousand events within ten seconds.
import path from 'node:path';
import Sqlite from 'better-sqlite3';

const CHAT_PER_SECOND = 50;
const STORM = { count: 1000, seconds: 10 };
const EVERY_SECONDS = 60;
const PIECE_SECONDS = 30;

const base = (platform) => platform.watchUrl.replace(/\/watch$/, '');

/** @returns a function that waits for the end and counts both sides */
export function startStorm(platforms, seconds, data) {
  const post = (platform, form) =>
    fetch(`${base(platform)}/storm`, { method: 'POST', body: new URLSearchParams(form) }).then((r) =>
      r.json(),
    );
  // In pieces: a request that is answered only after minutes is given up by its sender.
  const chat = async () => {
    for (let left = seconds; left > 0; left -= PIECE_SECONDS) {
      const piece = Math.min(left, PIECE_SECONDS);
      await post(platforms[0], { count: CHAT_PER_SECOND * piece, seconds: piece, seed: 3 + left, chat: 1 });
    }
  };
  const running = [chat()];
  let storms = 0;
  const storm = () => {
    storms += 1;
    running.push(post(platforms[1], { ...STORM, seed: 100 + storms, chat: 0 }));
  };
  storm();
  const timer = setInterval(storm, EVERY_SECONDS * 1000);
  return async () => {
    clearInterval(timer);
    await Promise.all(running);
    await new Promise((resolve) => setTimeout(resolve, 1500));
    const sent = await Promise.all(platforms.map(async (p) => (await fetch(`${base(p)}/sent`)).json()));
    const total = sent.flatMap((kinds) => Object.values(kinds)).reduce((a, b) => a + b, 0);
    const database = new Sqlite(path.join(data, 'dolomite.sqlite'), { readonly: true });
    const { listed, different } = database
      .prepare(
        "SELECT count(*) AS listed, count(DISTINCT platform || '/' || event_id) AS different FROM audience_entry WHERE platform <> 'test'",
      )
      .get();
    database.close();
    return { storms, sent: total, listed, different };
  };
}
