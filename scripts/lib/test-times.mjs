// Where the time of the checks goes, as a table.
import { readFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { root } from './prepare.mjs';

/** What this machine's processors were asked for and did not give, seconds since its start: 0 where the system does not tell. */
export function machineTime() {
  const read = (file, find) => {
    try {
      return Number(find(readFileSync(file, 'utf8')) ?? 0);
    } catch {
      return 0;
    }
  };
  return {
    /** Taken by the host, of all cores together: hundredths of a second in the eighth place. */
    stolen: read('/proc/stat', (text) => text.split('\n', 1)[0].split(/\s+/)[8]) / 100,
    /** In which some program waited for a processor. */
    waited: read('/proc/pressure/cpu', (text) => /^some .*total=(\d+)/m.exec(text)?.[1]) / 1e6,
  };
}

const pad = (text, width) => String(text).padStart(width);
const s = (seconds) => pad(seconds.toFixed(seconds < 10 ? 1 : 0), 6);

/** @param {{ phases: object[], files: object[], waits: object[], machine: object }} run */
export function timesTable({ phases, files, waits, machine }) {
  const of = new Map();
  for (const { file, waits: told } of waits) {
    const name = path.relative(root, file);
    const sums = of.get(name) ?? {};
    for (const [wait, ms] of Object.entries(told)) sums[wait] = (sums[wait] ?? 0) + ms / 1000;
    of.set(name, sums);
  }
  const lines = ['Where the time went (seconds)', '', '  took stolen waited  part'];
  for (const { name, seconds, stolen, waited } of phases)
    lines.push(`${s(seconds)} ${s(stolen)} ${s(waited)}  ${name}`);
  lines.push('', '  took studio browser network clock  file');
  for (const { file, seconds } of [...files]
    .filter((f) => f.seconds > 2)
    .sort((a, b) => b.seconds - a.seconds)) {
    const { studio = 0, browser = 0, network = 0, clock = 0 } = of.get(file) ?? {};
    lines.push(`${s(seconds)} ${s(studio)} ${s(browser)}  ${s(network)} ${s(clock)} ${file}`);
  }
  lines.push('', '  took  test');
  const tests = files.flatMap(({ file, tests: list }) => list.map((test) => ({ ...test, file })));
  for (const { name, seconds } of tests.sort((a, b) => b.seconds - a.seconds).slice(0, 30))
    lines.push(`${s(seconds)}  ${name}`);
  const stolen = machine.after.stolen - machine.before.stolen;
  const waited = machine.after.waited - machine.before.waited;
  lines.push(
    '',
    `The host took ${stolen.toFixed(0)} s of ${os.cpus().length} cores; for ${waited.toFixed(0)} s some program waited for one.`,
  );
  return lines.join('\n');
}
