import pino from 'pino';

export type Log = pino.Logger;

/** Paths at which secrets could stand in what is logged. */
const SECRET_PATHS = [
  'key',
  '*.key',
  '*.*.key',
  'ticket',
  '*.ticket',
  'token',
  '*.token',
  'destinations[*].key',
];

/** @param name which process speaks */
export function createLog(name: string, level = process.env.DOLOMITE_LOG ?? 'info'): Log {
  return pino(
    { name, level, base: { name }, redact: { paths: SECRET_PATHS, censor: '[secret]' } },
    pino.destination({ dest: 2, sync: true }),
  );
}
