/** Encodes a frame's pictures for a camera of the system and sends them to the server, as fast as that takes them. */
import { messageOf } from '../../core/fault';
import { annexBWithColour } from '../../core/media/avc-colour';
import type { CameraState } from '../../protocol/camera';
import type { ToCamera } from '../../protocol/engine';
import { systemClock } from '../system-clock';
import { workerScope } from '../worker-scope';

/** A program that begins to read sees something within this time. */
const KEYFRAME_SECONDS = 1;
/** Pictures under way between stage and encoder. */
const AHEAD = 3;
/** More than this not sent yet: pictures are left out. */
const UNSENT_BYTES = 500_000;
const MAX_QUEUE = 2;

const tell = (state: CameraState | { state: 'ended' }) => workerScope.postMessage(state);

/** @returns ends it */
function run({ url, pictures, format, kbps, codec, colour }: ToCamera): () => void {
  const socket = new WebSocket(url);
  let keyframeAt = -Infinity;
  const end = () => {
    pictures.postMessage(null);
    pictures.close();
    if (encoder.state !== 'closed') encoder.close();
  };
  const fail = (message: string) => {
    socket.onclose = null;
    end();
    socket.close();
    tell({ state: 'failed', message });
  };
  const encoder = new VideoEncoder({
    output: (chunk) => {
      const bytes = new Uint8Array(chunk.byteLength);
      chunk.copyTo(bytes);
      if (socket.readyState === WebSocket.OPEN) socket.send(colour ? annexBWithColour(bytes, colour) : bytes);
    },
    error: (error) => fail(error.message),
  });
  encoder.configure({
    codec,
    width: format.width,
    height: format.height,
    framerate: format.fps,
    bitrate: kbps * 1000,
    latencyMode: 'realtime',
    avc: { format: 'annexb' },
  });
  socket.onopen = () => {
    socket.send(JSON.stringify(format));
    pictures.postMessage(AHEAD);
  };
  socket.onmessage = ({ data }: MessageEvent<string>) => {
    const state = JSON.parse(data) as CameraState;
    if (state.state === 'failed') fail(state.message);
    else tell(state);
  };
  socket.onclose = () => {
    end();
    tell({ state: 'failed', message: 'The studio’s server does not answer. Try again.' });
  };
  pictures.onmessage = ({ data: frame }: MessageEvent<VideoFrame>) => {
    pictures.postMessage(1);
    // A whole picture is never cut: one that finds the way full is left out.
    const full = socket.bufferedAmount > UNSENT_BYTES || encoder.encodeQueueSize > MAX_QUEUE;
    if (!full && encoder.state === 'configured') {
      const nowMs = systemClock.nowMs();
      const keyFrame = nowMs - keyframeAt >= KEYFRAME_SECONDS * 1000;
      if (keyFrame) keyframeAt = nowMs;
      encoder.encode(frame, { keyFrame });
    }
    frame.close();
  };
  return () => {
    socket.onclose = null;
    end();
    socket.close();
  };
}

let stop = () => {};
workerScope.onmessage = ({ data }: MessageEvent<ToCamera | null>) => {
  if (data === null) {
    stop();
    return tell({ state: 'ended' });
  }
  try {
    stop = run(data);
  } catch (error) {
    tell({ state: 'failed', message: messageOf(error) });
  }
};
