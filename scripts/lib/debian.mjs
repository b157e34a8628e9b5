// Programs the tests and the rehearsal need beside Node: installed from Debian's packages when that is possible.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';

const PROGRAMS = {
  chromium: {
    there: () =>
      ['/usr/bin/chromium', '/usr/bin/chromium-browser', process.env.DOLOMITE_CHROMIUM ?? ''].some(
        (p) => p && existsSync(p),
      ),
    packages: ['chromium'],
  },
  ffmpeg: { there: () => onPath('ffmpeg') && onPath('ffprobe'), packages: ['ffmpeg'] },
  'nginx with its RTMP module': {
    there: () => rtmpModule() !== null && onPath('nginx'),
    packages: ['nginx-light', 'libnginx-mod-rtmp'],
  },
  'espeak-ng': { there: () => onPath('espeak-ng'), packages: ['espeak-ng'] },
  iproute2: { there: () => onPath('ip'), packages: ['iproute2'] },
  "GStreamer's RTSP server": {
    there: () =>
      spawnSync('/usr/bin/python3', [
        '-c',
        "import gi; gi.require_version('GstRtspServer', '1.0'); from gi.repository import Gst; Gst.init(None); exit(0 if Gst.ElementFactory.find('rtph264pay') else 1)",
      ]).status === 0,
    packages: [
      'python3-gi',
      'gir1.2-gst-rtsp-server-1.0',
      'gstreamer1.0-plugins-base',
      'gstreamer1.0-plugins-good',
    ],
  },
  'firefox-esr': { there: () => onPath('firefox-esr'), packages: ['firefox-esr'] },
  ngircd: { there: () => onPath('ngircd'), packages: ['ngircd'] },
  coturn: { there: () => onPath('turnserver'), packages: ['coturn'] },
  pulseaudio: {
    there: () => onPath('pulseaudio') && onPath('parec'),
    packages: ['pulseaudio', 'pulseaudio-utils'],
  },
  pebble: { there: () => onPath('pebble'), packages: ['pebble'] },
};

function onPath(name) {
  return spawnSync('sh', ['-c', `command -v ${name} || test -x /usr/sbin/${name}`]).status === 0;
}

/** Where Debian puts the module, or null. */
export function rtmpModule() {
  return (
    ['/usr/lib/nginx/modules/ngx_rtmp_module.so', '/usr/share/nginx/modules/ngx_rtmp_module.so'].find((p) =>
      existsSync(p),
    ) ?? null
  );
}

/** @returns the names of what is still missing afterwards */
export async function ensurePrograms(names) {
  const missing = names.filter((name) => !PROGRAMS[name].there());
  if (missing.length === 0) return [];
  const mayInstall = process.getuid?.() === 0 && onPath('apt-get');
  if (mayInstall) {
    console.log(`installing ${missing.join(', ')} …`);
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
    const run = (args, stdio) =>
      new Promise((resolve) => spawn('apt-get', args, { stdio, env }).on('exit', resolve));
    await run(['update', '-q'], 'ignore');
    await run(
      [
        'install',
        '-y',
        '-q',
        '--no-install-recommends',
        ...missing.flatMap((name) => PROGRAMS[name].packages),
      ],
      ['ignore', 'ignore', 'inherit'],
    );
  }
  return missing.filter((name) => !PROGRAMS[name].there());
}
