/** GStreamer's RTSP server on a free port: a camera that is not ours, with and without a password. */
import { spawn, type ChildProcess } from 'node:child_process';
import { freePort } from '../../scripts/lib/studio.mjs';

/** What Debian's Python runs: a file is played from its beginning to whoever asks, as fast as it was recorded. */
const SERVER = `
import sys
import gi
gi.require_version('Gst', '1.0')
gi.require_version('GstRtspServer', '1.0')
from gi.repository import GLib, Gst, GstRtspServer

port, file, user = sys.argv[1:4]
Gst.init(None)
server = GstRtspServer.RTSPServer()
server.set_address('127.0.0.1')
server.set_service(port)
factory = GstRtspServer.RTSPMediaFactory()
factory.set_launch(
    f'( filesrc location={file} ! qtdemux name=d '
    'd.video_0 ! queue ! rtph264pay name=pay0 pt=96 config-interval=1 '
    'd.audio_0 ! queue ! aacparse ! rtpmp4gpay name=pay1 pt=97 )')
if user:
    auth = GstRtspServer.RTSPAuth()
    token = GstRtspServer.RTSPToken()
    token.set_string('media.factory.role', 'viewer')
    auth.add_basic(GstRtspServer.RTSPAuth.make_basic(*user.split(':')), token)
    server.set_auth(auth)
    factory.add_role_from_structure(Gst.Structure.new_from_string(
        'viewer, media.factory.access=(boolean)true, media.factory.construct=(boolean)true'))
server.get_mount_points().add_factory('/camera', factory)
server.attach(None)
print('ready', flush=True)
GLib.MainLoop().run()
`;

export class RtspServer {
  private constructor(
    readonly port: number,
    private readonly child: ChildProcess,
  ) {}

  /**
   * @param file MP4 with H.264 and AAC
   * @param user `name:password` that it wants, if any
   */
  static async start(file: string, user = ''): Promise<RtspServer> {
    const port = await freePort();
    // Debian's own: it is the one that has GStreamer's bindings.
    const child = spawn('/usr/bin/python3', ['-c', SERVER, String(port), file, user], {
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    let said = '';
    child.stderr.on('data', (part: Buffer) => (said += part.toString()));
    await new Promise<void>((resolve, reject) => {
      child.stdout.once('data', () => resolve());
      child.once('error', reject);
      child.once('exit', () => reject(new Error(`the RTSP server did not start: ${said}`)));
    });
    return new RtspServer(port, child);
  }

  url(user = ''): string {
    return `rtsp://${user && `${user}@`}127.0.0.1:${this.port}/camera`;
  }

  stop(): void {
    this.child.kill('SIGKILL');
  }
}
