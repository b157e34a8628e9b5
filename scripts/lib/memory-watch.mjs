// Memory of processes over a long run: is it flat?
import { memoryOf } from './process-usage.mjs';

const mean = (list) => (list.length > 0 ? list.reduce((sum, value) => sum + value, 0) / list.length : 0);

/**
 * Reads the memory of each process (with its children) every ten seconds until it is asked for the result.
 * @param pids process numbers by name
 */
export function watchMemory(pids) {
  const names = Object.keys(pids);
  const readings = [];
  const timer = setInterval(() => readings.push(names.map((name) => memoryOf(pids[name]))), 10_000);
  timer.unref();
  return () => {
    clearInterval(timer);
    if (readings.length < 3) return null;
    // Warm by a tenth of the run; the twentieth after it is compared with the last twentieth.
    const part = Math.max(1, Math.round(readings.length / 20));
    const of = (list, n) => mean(list.map((reading) => reading[n]));
    const first = readings.slice(2 * part, 3 * part);
    const last = readings.slice(-part);
    const sums = (list) => list.map((reading) => reading.reduce((sum, mb) => sum + mb, 0));
    const about = (early, late, most) => ({
      earlyMb: Math.round(early),
      lateMb: Math.round(late),
      mostMb: Math.round(most),
      ratio: Math.round((late / early) * 1000) / 1000,
    });
    return {
      ...Object.fromEntries(
        names.map((name, n) => [
          name,
          about(of(first, n), of(last, n), Math.max(...readings.map((reading) => reading[n]))),
        ]),
      ),
      together: about(mean(sums(first)), mean(sums(last)), Math.max(...sums(readings))),
    };
  };
}
