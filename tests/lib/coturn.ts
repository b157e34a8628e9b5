/** coturn: a STUN and TURN server that is not ours, for as long as a test runs. */
import { spawn, type ChildProcess } from 'node:child_process';
import os from 'node:os';
import { freePort } from '../../scripts/lib/studio.mjs';
import { untilListening } from './nginx-rtmp';

/** An address of this machine that is not its own loop: browsers look for ways over those alone. */
export function ownAddress(): string {
  const found = Object.values(os.networkInterfaces())
    .flatMap((all) => all ?? [])
    .find(({ family, internal }) => family === 'IPv4' && !internal);
  if (!found)
    throw new Error('this machine has no network but its own loop: nobody can be connected by WebRTC');
  return found.address;
}

export class Coturn {
  static readonly secret = 'secret-that-coturn-shares';

  private constructor(
    readonly address: string,
    private readonly child: ChildProcess,
  ) {}

  static async start(): Promise<Coturn> {
    const host = ownAddress();
    const port = await freePort();
    const child = spawn(
      'turnserver',
      [
        ...['-n', `--listening-ip=${host}`, `--listening-port=${port}`, `--relay-ip=${host}`],
        ...['--min-port=49152', '--max-port=49400', '--realm=dolomite.example'],
        ...['--use-auth-secret', `--static-auth-secret=${Coturn.secret}`],
        ...['--no-tls', '--no-dtls', '--no-cli', '--log-file=stdout', '--pidfile='],
      ],
      { stdio: 'ignore' },
    );
    await untilListening(port, host);
    return new Coturn(`${host}:${port}`, child);
  }

  async stop(): Promise<void> {
    this.child.kill('SIGTERM');
    await new Promise((resolve) =>
      this.child.exitCode === null ? this.child.once('exit', resolve) : resolve(null),
    );
  }
}
