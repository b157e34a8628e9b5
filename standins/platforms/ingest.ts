import { createRequire } from 'node:module';
import path from 'node:path';

const require = createRequire(import.meta.url);

interface IngestSession {
  streamPath: string;
  isPublisher: boolean;
  broadcast: { publishGraceMs: number };
  close(): void;
}

interface MediaServer {
  on(event: string, listener: (session: IngestSession) => void): void;
  run(): Promise<void>;
  stop(): Promise<void>;
}

/**
 * The stand-ins' ingest: node-media-server, with keys checked.
 * @param allowed whether this path (/app/key) may publish
 */
export async function startIngest(options: {
  rtmpPort: number;
  httpPort: number;
  folder: string;
  allowed: (streamPath: string) => boolean;
}): Promise<{ stop: () => Promise<void>; closePublisher: (streamPath: string) => void }> {
  const NodeMediaServer = require('node-media-server') as new (config: unknown) => MediaServer;
  // Its log goes to standard output without a way to turn it off from outside.
  const say = console.log;
  console.log = () => undefined;
  const server = new NodeMediaServer({
    bind: '127.0.0.1',
    rtmp: { port: options.rtmpPort },
    http: { port: options.httpPort },
    record: { auto: false, path: path.join(options.folder, 'unused') },
    store: { path: path.join(options.folder, 'ingest') },
    webadmin: { enable: false },
  });
  const publishers = new Map<string, IngestSession>();
  server.on('prePublish', (session) => {
    // A publisher that comes back starts anew: continuing the old timeline shifts sound against picture.
    session.broadcast.publishGraceMs = 0;
    if (options.allowed(session.streamPath)) publishers.set(session.streamPath, session);
    else session.close();
  });
  await server.run();
  return {
    stop: async () => {
      await server.stop();
      console.log = say;
    },
    closePublisher: (streamPath) => publishers.get(streamPath)?.close(),
  };
}
