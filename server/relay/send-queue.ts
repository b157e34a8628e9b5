/**
 * Bytes the kernel still holds for a connection, from /proc/self/net/tcp (Linux; proc(5)).
 * A stalled receiver stays invisible to Node for half a minute, since the kernel takes megabytes; this shows it at once.
 */
import { readFileSync } from 'node:fs';

/** Reads the send queues of all connections once; key: local port. Empty where the file does not exist. */
export function readSendQueues(): Map<number, number> {
  const queues = new Map<number, number>();
  for (const file of ['/proc/self/net/tcp', '/proc/self/net/tcp6']) {
    let text: string;
    try {
      text = readFileSync(file, 'latin1');
    } catch {
      continue; // not Linux, or no IPv6
    }
    parseSendQueues(text, queues);
  }
  return queues;
}

/** Columns: sl, local_address, rem_address, st, tx_queue:rx_queue, … all in hexadecimal. */
export function parseSendQueues(text: string, queues: Map<number, number>): void {
  for (const line of text.split('\n').slice(1)) {
    const columns = line.trim().split(/\s+/);
    if (columns.length < 5 || columns[3] !== '01') continue; // 01: established
    const port = parseInt(columns[1].slice(columns[1].lastIndexOf(':') + 1), 16);
    const bytes = parseInt(columns[4].split(':')[0], 16);
    if (Number.isFinite(port) && Number.isFinite(bytes))
      queues.set(port, Math.max(bytes, queues.get(port) ?? 0));
  }
}
