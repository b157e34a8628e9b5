import { spawn, type ChildProcess } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import net from 'node:net';
import os from 'node:os';
import path from 'node:path';
import { rtmpModule } from '../../scripts/lib/debian.mjs';
import { freePort } from '../../scripts/lib/studio.mjs';

/** nginx with its RTMP module on a free port, in a folder of its own: an ingest that is not ours. */
export class NginxRtmp {
  private constructor(
    readonly port: number,
    readonly folder: string,
    private readonly child: ChildProcess,
  ) {}

  get url(): string {
    return `rtmp://127.0.0.1:${this.port}/live`;
  }

  static async start(): Promise<NginxRtmp> {
    const module = rtmpModule();
    if (!module) throw new Error('nginx has no RTMP module here');
    const folder = mkdtempSync(path.join(os.tmpdir(), 'dolomite-nginx-'));
    const port = await freePort();
    mkdirSync(path.join(folder, 'logs'));
    writeFileSync(
      path.join(folder, 'nginx.conf'),
      `load_module ${module};
daemon off; worker_processes 1; pid ${folder}/pid; error_log ${folder}/logs/error.log notice;
events { worker_connections 256; }
rtmp { server { listen 127.0.0.1:${port}; chunk_size 4096; application live { live on; record off; } } }
`,
    );
    const child = spawn('/usr/sbin/nginx', ['-p', folder, '-c', path.join(folder, 'nginx.conf')], {
      stdio: 'ignore',
    });
    const server = new NginxRtmp(port, folder, child);
    await untilListening(port);
    return server;
  }

  async stop(): Promise<void> {
    this.child.kill('SIGTERM');
    await new Promise((resolve) =>
      this.child.exitCode === null ? this.child.once('exit', resolve) : resolve(null),
    );
    rmSync(this.folder, { recursive: true, force: true });
  }
}

export async function untilListening(port: number): Promise<void> {
  for (let tries = 0; tries < 100; tries++) {
    const open = await new Promise<boolean>((resolve) => {
      const socket = net.connect(port, '127.0.0.1');
      socket.once('connect', () => {
        socket.destroy();
        resolve(true);
      });
      socket.once('error', () => resolve(false));
    });
    if (open) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`nothing listens on ${port}`);
}
