// What something costs a broadcast, told from what the machine does anyway: a turn with it, a turn without, and so on.

const wait = (seconds) => new Promise((resolve) => setTimeout(resolve, Math.max(0, seconds) * 1000));

/**
 * @param {object} turns
 * @param {number} turns.seconds for all turns together; what is left over after the last whole one is not used
 * @param {number} turns.each seconds of a turn
 * @param {number} turns.uncounted seconds at the end of each turn that do not count
 * @param {{ with: number, without: number }} turns.settle seconds at its beginning that do not: what was there has to go
 * @param {() => Promise<{ due: number, composed: number, late: number }>} turns.look pictures until now
 * @param {(n: number) => Promise<void>[]} turns.begin what the `n`th turn with it begins; the turn lasts until that has
 *   ended
 * @param {() => Promise<void>} turns.end waits until it has ended; the turn without it begins then
 */
export async function byTurns({ seconds, each, uncounted, settle, look, begin, end }) {
  const counts = {
    with: { due: 0, composed: 0, late: 0 },
    without: { due: 0, composed: 0, late: 0 },
  };
  for (let left = seconds, n = 0; left >= each; left -= each, n++) {
    const which = n % 2 === 0 ? 'with' : 'without';
    if (which === 'without') await end();
    const until = performance.now() + each * 1000;
    if (which === 'without') await wait(settle.without);
    const before = await look();
    const running = which === 'with' ? begin(n / 2) : [];
    await wait(which === 'with' ? settle.with : 0);
    const from = settle.with > 0 && which === 'with' ? await look() : before;
    await wait((until - performance.now()) / 1000 - uncounted);
    const to = await look();
    for (const key of Object.keys(counts[which])) counts[which][key] += to[key] - from[key];
    await Promise.all(running);
    await wait((until - performance.now()) / 1000);
  }
  const share = ({ due, late }) => Math.round((1000 * late) / due) / 10;
  return { turns: counts, latePercent: { with: share(counts.with), without: share(counts.without) } };
}
