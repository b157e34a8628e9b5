/**
 * Runs inside each frame of a rendered web page, before the page's own code: what the page plays, by Web Audio or by media
 * elements, is handed out through a binding. A browser has no other door for the sound of one page.
 *
 * It is handed over as source text, so it may use nothing from around it.
 */
export interface EarSettings {
  /** Name of the binding: takes base64 of interleaved 16-bit samples and when the first of them sounded, epoch ms. */
  binding: string;
  /** 48 000. */
  rate: number;
  /** Frames handed out at once; a power of two. */
  frames: number;
  /** So many silent pieces in a row are handed out before they are left out. */
  silent: number;
}

/** A media element of the browser that renders pages; the DOM's types do not know the method. */
type Capturable = HTMLMediaElement & { captureStream?: () => MediaStream };

export function listenToPage({ binding, rate, frames, silent }: EarSettings): void {
  const hand = (window as unknown as Record<string, (samples: string, atMs: number) => unknown>)[binding];
  const Context = window.AudioContext as typeof AudioContext | undefined;
  if (!hand || !Context) return;
  const { connect, disconnect } = AudioNode.prototype;
  // Past what is put in their place below.
  const join = (from: AudioNode, to: AudioNode) => void Reflect.apply(connect, from, [to]);
  let ear: { context: AudioContext; mix: GainNode } | null = null;

  const listening = () => {
    if (ear) return ear;
    const context = new Context({ sampleRate: rate, latencyHint: 'interactive' });
    const mix = context.createGain();
    // A worklet would be a module, which the page's own rules may forbid.
    const taking = context.createScriptProcessor(frames, 2, 2);
    let quiet = 0;
    let offset = Infinity;
    taking.onaudioprocess = ({ inputBuffer, playbackTime }) => {
      // What comes in has just been played; a page that is busy is told of it late, which the least delay shows.
      const began = playbackTime - (2 * frames) / rate;
      offset = Math.min(
        offset + 1e-5,
        (performance.timeOrigin + performance.now()) / 1000 - began - frames / rate,
      );
      const [left, right] = [inputBuffer.getChannelData(0), inputBuffer.getChannelData(1)];
      const samples = new Int16Array(2 * frames);
      let loud = false;
      for (let i = 0; i < frames; i++) {
        samples[2 * i] = Math.max(-1, Math.min(1, left[i])) * 32767;
        samples[2 * i + 1] = Math.max(-1, Math.min(1, right[i])) * 32767;
        loud ||= samples[2 * i] !== 0 || samples[2 * i + 1] !== 0;
      }
      quiet = loud ? 0 : quiet + 1;
      if (quiet > silent) return;
      const bytes = new Uint8Array(samples.buffer);
      let text = '';
      for (let i = 0; i < bytes.length; i += 4096)
        text += String.fromCharCode(...bytes.subarray(i, i + 4096));
      void hand(btoa(text), (began + offset) * 1000);
    };
    // Nothing is heard of it; it runs only while it leads somewhere.
    join(mix, taking);
    join(taking, context.destination);
    void context.resume();
    ear = { context, mix };
    return ear;
  };

  // Web Audio: what goes to a context's own way out goes to the ear too.
  const outs = new WeakMap<BaseAudioContext, MediaStreamAudioDestinationNode>();
  const outOf = (target: unknown): AudioNode | null => {
    if (!(target instanceof AudioDestinationNode)) return null;
    const context = target.context;
    if (!(context instanceof Context) || context === ear?.context) return null;
    let out = outs.get(context);
    if (!out) {
      out = context.createMediaStreamDestination();
      outs.set(context, out);
      const { context: own, mix } = listening();
      join(own.createMediaStreamSource(out.stream), mix);
    }
    return out;
  };
  AudioNode.prototype.connect = function (this: AudioNode, ...to: unknown[]) {
    const done = Reflect.apply(connect, this, to) as AudioNode;
    const out = outOf(to[0]);
    if (out) Reflect.apply(connect, this, [out, ...to.slice(1, 2)]);
    return done;
  } as typeof connect;
  AudioNode.prototype.disconnect = function (this: AudioNode, ...from: unknown[]) {
    Reflect.apply(disconnect, this, from);
    const out = outOf(from[0]);
    if (out) Reflect.apply(disconnect, this, [out, ...from.slice(1, 2)]);
  } as typeof disconnect;

  // Media elements: their sound is captured as loud as the page has set them.
  const heard = new WeakMap<HTMLMediaElement, GainNode>();
  const hear = (element: Capturable) => {
    if (heard.has(element) || !element.captureStream) return;
    let stream: MediaStream;
    try {
      stream = element.captureStream();
    } catch {
      // From another place that does not allow it: the browser hands its sound to nobody.
      return;
    }
    const { context, mix } = listening();
    const level = context.createGain();
    const set = () => (level.gain.value = element.muted ? 0 : element.volume);
    set();
    element.addEventListener('volumechange', set);
    join(level, mix);
    heard.set(element, level);
    const taken = new Set<string>();
    const take = (track: MediaStreamTrack) => {
      // One that is there already may be told as new once more.
      if (taken.has(track.id)) return;
      taken.add(track.id);
      // The picture is seen anyway.
      if (track.kind === 'video') track.stop();
      else join(context.createMediaStreamSource(new MediaStream([track])), level);
    };
    stream.getTracks().forEach(take);
    stream.addEventListener('addtrack', (event) => take(event.track));
  };
  const { createMediaElementSource } = Context.prototype;
  Context.prototype.createMediaElementSource = function (this: AudioContext, element: HTMLMediaElement) {
    const node = createMediaElementSource.call(this, element);
    // From now on it sounds through the page's own context.
    const level = heard.get(element);
    if (level) Reflect.apply(disconnect, level, []);
    else heard.set(element, this.createGain());
    return node;
  };
  const { play } = HTMLMediaElement.prototype;
  HTMLMediaElement.prototype.play = function (this: Capturable) {
    hear(this);
    return play.call(this);
  };
  // Those that begin by themselves.
  document.addEventListener(
    'playing',
    ({ target }) => {
      if (target instanceof HTMLMediaElement) hear(target);
    },
    true,
  );
}
