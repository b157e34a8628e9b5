/**
 * The stage: composes the programme on an exact grid of pictures, paced by its own timer and the sound clock, shows it in
 * the page's views and hands it to the encoder.
 */
import { AlertQueue } from '../../core/audience/alert-queue';
import type { AudienceEvent, ChatMessage } from '../../core/audience/events';
import { PictureGrid } from '../../core/delivery/picture-grid';
import { messageOf } from '../../core/fault';
import { fadeProgress, takeScene, type OnAir } from '../../core/scene/programme';
import { documentOf, recordsOf, type ShowDocument } from '../../core/show/document';
import type { FromStage, StageReport, ToStage, ViewSubject } from '../../protocol/engine';
import { workerScope } from '../worker-scope';
import { Compositor } from './compositor';
import { InputSources } from './input-sources';
import { paintText } from './paint-text';
import { encodeCover, PictureEncoder } from './picture-encoder';
import type { DrawContext } from './picture-source';
import { ProgrammeClock } from './programme-clock';

/** Chat kept for the panels. */
const MAX_CHAT = 60;
const REPORT_SECONDS = 0.5;
/** One scene thumbnail is refreshed every so many pictures, in turn. */
const THUMBNAIL_EVERY = 5;
/** Longer stumbles are left as a gap: repeating them would only make the next ones late. */
const MAX_BRIDGED = 5;
/** After a skip the machine counts as short of time for this long, and views are drawn every third picture. */
const SHORT_SECONDS = 3;
const VIEWS_WHEN_SHORT = 3;
/** A picture that starts later than half its time is late. */
const LATE_SHARE = 0.5;

interface View {
  canvas: OffscreenCanvas;
  context: DrawContext;
  subject: ViewSubject;
}

const tell = (message: FromStage) => workerScope.postMessage(message);
const wall = () => performance.now() / 1000;

class Stage {
  readonly #clock = new ProgrammeClock(wall);
  readonly #inputs = new InputSources();
  readonly #alerts = new AlertQueue();
  readonly #chat: { messages: ChatMessage[]; version: number } = { messages: [], version: 0 };
  readonly #compositor = new Compositor({
    sources: this.#inputs.sources,
    alerts: this.#alerts,
    chat: this.#chat,
  });
  #document: ShowDocument = new Map();
  #grid = new PictureGrid(30);
  #canvas = new OffscreenCanvas(1280, 720);
  #context = programmeContext(this.#canvas);
  #fade: { canvas: OffscreenCanvas; context: DrawContext } | null = null;
  #onAir: OnAir | null = null;
  #editSceneId: string | null = null;
  readonly #views = new Map<string, View>();
  #visible = true;
  #next = 0;
  #encoder: PictureEncoder | null = null;
  #counts = { due: 0, composed: 0, late: 0, skipped: 0, encoderBusy: 0, leftOut: 0, lineDropped: 0 };
  #composeMs = 0;
  #recent: number[] = [];
  #reportedAt = 0;
  #thumbnail = 0;
  #thumbnailSlot = -1;
  #lastSkip = -Infinity;

  take(message: ToStage): void {
    switch (message.type) {
      case 'start':
        this.#clock.attach(new Int32Array(message.sound.clock));
        // Words drawn before their font is there keep the stand-in font: fonts come first.
        void this.#loadFonts(message.fonts).then(() => {
          this.#next = this.#grid.indexAt(this.#clock.now()) + 1;
          this.#schedule();
        });
        break;
      case 'document':
        this.#document = documentOf(message.records);
        this.#inputs.setDocument(this.#document);
        this.#compositor.setDocument(this.#document);
        break;
      case 'size':
        this.#resize(message.width, message.height, message.fps);
        break;
      case 'take':
        this.#onAir = takeScene(this.#onAir, message.sceneId, message.transition, this.#clock.now());
        if (this.#onAir.from === null) this.#encoder?.cut();
        break;
      case 'edit':
        this.#editSceneId = message.sceneId;
        break;
      case 'addView':
        this.#views.set(message.viewId, {
          canvas: message.canvas,
          context: message.canvas.getContext('2d', { alpha: false })!,
          subject: message.subject,
        });
        break;
      case 'sizeView': {
        const view = this.#views.get(message.viewId);
        if (view) {
          view.canvas.width = message.width;
          view.canvas.height = message.height;
        }
        break;
      }
      case 'removeView':
        this.#views.delete(message.viewId);
        break;
      case 'visible':
        this.#visible = message.visible;
        break;
      case 'track':
        this.#inputs.attachTrack(message.inputId, message.frames);
        break;
      case 'inputProblem':
        this.#inputs.problem(message.inputId, message.problem);
        break;
      case 'fileSound':
        this.#inputs.attachSound(message.inputId, message.ring);
        break;
      case 'audience':
        for (const event of message.events) this.#audience(event);
        break;
      case 'encode':
        this.#encoder?.close();
        this.#resize(message.plan.width, message.plan.height, message.plan.fps);
        this.#counts = {
          due: 0,
          composed: 0,
          late: 0,
          skipped: 0,
          encoderBusy: 0,
          leftOut: 0,
          lineDropped: 0,
        };
        void this.#cover(message.plan, message.port);
        this.#encoder = new PictureEncoder(message.plan, message.port, (text) =>
          tell({ type: 'encodeFailed', message: text }),
        );
        break;
      case 'stopEncode':
        this.#encoder?.close();
        this.#encoder = null;
        break;
    }
  }

  async #loadFonts(fonts: readonly { family: string; url: string }[]): Promise<void> {
    await Promise.all(
      fonts.map(async ({ family, url }) => {
        try {
          const face = new FontFace(family, `url(${url})`, { weight: '100 900' });
          workerScope.fonts.add(await face.load());
        } catch (error) {
          tell({ type: 'failed', message: `The font ${family} could not be loaded: ${messageOf(error)}` });
        }
      }),
    );
  }

  #resize(width: number, height: number, fps: number): void {
    if (this.#canvas.width !== width || this.#canvas.height !== height) {
      this.#canvas = new OffscreenCanvas(width, height);
      this.#context = programmeContext(this.#canvas);
      this.#fade = null;
    }
    if (this.#grid.fps !== fps) {
      this.#grid = new PictureGrid(fps);
      this.#next = this.#grid.indexAt(this.#clock.now()) + 1;
    }
  }

  #audience(event: AudienceEvent): void {
    const now = this.#clock.now();
    if (event.type === 'chat') {
      // From here on the message's time is the programme's: the panel counts from when it came.
      const age = Math.max(0, (Date.now() - event.atMs) / 1000);
      this.#chat.messages.push({ ...event, atMs: (now - age) * 1000 });
      if (this.#chat.messages.length > MAX_CHAT) this.#chat.messages.shift();
      this.#chat.version += 1;
      return;
    }
    // Follows from before this page was opened are history, not news.
    if (Date.now() - event.atMs > 30_000) return;
    const rule = recordsOf(this.#document, 'alertRule').find((r) => r.event === event.type);
    if (rule) this.#alerts.add(event, rule);
  }

  #schedule(): void {
    const wait = (this.#grid.seconds(this.#next) - this.#clock.now()) * 1000;
    setTimeout(() => this.#tick(), Math.max(0, wait));
  }

  #tick(): void {
    try {
      const now = this.#clock.now();
      const due = this.#grid.indexAt(now);
      if (due >= this.#next) {
        // A late picture is skipped and counted, never shifted.
        const skipped = due - this.#next;
        this.#counts.due += skipped + 1;
        this.#counts.skipped += skipped;
        if (skipped > 0) this.#lastSkip = now;
        // A short stumble is bridged with the last picture, so that rate and keyframes stay on the grid.
        if (skipped <= MAX_BRIDGED) for (let i = this.#next; i < due; i++) this.#hand(i);
        if (now - this.#grid.seconds(due) > LATE_SHARE / this.#grid.fps) this.#counts.late += 1;
        this.#picture(due);
        this.#next = due + 1;
      }
      if (now - this.#reportedAt >= REPORT_SECONDS) this.#report(now);
    } catch (error) {
      tell({ type: 'failed', message: `The stage stumbled: ${messageOf(error)}` });
      this.#next += 1;
    }
    this.#schedule();
  }

  #picture(index: number): void {
    const seconds = this.#grid.seconds(index);
    const started = performance.now();
    this.#inputs.advance(seconds);
    this.#compose(seconds);
    this.#counts.composed += 1;
    this.#recent.push(started);
    this.#hand(index);
    // Viewers come first: while the machine is short of time the page's own views get fewer pictures.
    const every = seconds - this.#lastSkip < SHORT_SECONDS ? VIEWS_WHEN_SHORT : 1;
    if (this.#visible && index % every === 0) this.#show(index, seconds);
    this.#composeMs += (performance.now() - started - this.#composeMs) * 0.05;
  }

  /** Gives what is on the canvas to the encoder as picture `index`. */
  #hand(index: number): void {
    const result = this.#encoder?.add(this.#canvas, index);
    if (result === 'busy') this.#counts.encoderBusy += 1;
    else if (result === 'leftOut') this.#counts.leftOut += 1;
    else if (result === 'line') this.#counts.lineDropped += 1;
  }

  #compose(seconds: number): void {
    const { width, height } = this.#canvas;
    const onAir = this.#onAir;
    if (!onAir) {
      this.#context.fillStyle = '#14181D';
      this.#context.fillRect(0, 0, width, height);
      return;
    }
    const progress = fadeProgress(onAir, seconds);
    if (onAir.from && progress >= 1) this.#onAir = { sceneId: onAir.sceneId, from: null };
    if (!onAir.from || progress >= 1) {
      this.#compositor.draw(this.#context, onAir.sceneId, width, height, seconds);
      return;
    }
    this.#compositor.draw(this.#context, onAir.from.sceneId, width, height, seconds);
    if (progress <= 0) return;
    this.#fade ??= makeCanvas(width, height);
    this.#compositor.draw(this.#fade.context, onAir.sceneId, width, height, seconds);
    this.#context.globalAlpha = progress;
    this.#context.drawImage(this.#fade.canvas, 0, 0);
    this.#context.globalAlpha = 1;
  }

  #show(index: number, seconds: number): void {
    const thumbnails: View[] = [];
    for (const view of this.#views.values()) {
      const { subject, context, canvas } = view;
      const settled = this.#onAir?.from === null ? this.#onAir.sceneId : null;
      if (subject.type === 'scene') thumbnails.push(view);
      else if (subject.type === 'onAir' || this.#editSceneId === settled)
        context.drawImage(this.#canvas, 0, 0, canvas.width, canvas.height);
      else if (this.#editSceneId)
        this.#compositor.draw(context, this.#editSceneId, canvas.width, canvas.height, seconds);
    }
    if (thumbnails.length > 0 && Math.floor(index / THUMBNAIL_EVERY) !== this.#thumbnailSlot) {
      this.#thumbnailSlot = Math.floor(index / THUMBNAIL_EVERY);
      const { subject, context, canvas } = thumbnails[this.#thumbnail++ % thumbnails.length];
      if (subject.type === 'scene')
        this.#compositor.draw(context, subject.sceneId, canvas.width, canvas.height, seconds);
    }
  }

  async #cover(plan: Parameters<typeof encodeCover>[0], port: MessagePort): Promise<void> {
    const { canvas, context } = makeCanvas(plan.width, plan.height);
    const show = recordsOf(this.#document, 'show')[0];
    const paint = (n: number, of: number) => {
      const { width, height } = plan;
      const glow = 0.5 - 0.5 * Math.cos((n / of) * Math.PI * 2);
      context.fillStyle = '#14181D';
      context.fillRect(0, 0, width, height);
      paintText(
        context,
        show?.name ?? '',
        {
          font: 'Bricolage Grotesque Variable',
          sizePx: height / 9,
          weight: 700,
          colour: '#ECE8E1',
          align: 'center',
          box: 'none',
        },
        width,
        height * 0.9,
        1,
        0,
      );
      context.save();
      context.translate(0, height * 0.52);
      paintText(
        context,
        'We will be right back',
        {
          font: 'Hanken Grotesk Variable',
          sizePx: height / 20,
          weight: 500,
          colour: '#A7AFB7',
          align: 'center',
          box: 'none',
        },
        width,
        height * 0.14,
        1,
        0,
      );
      context.restore();
      context.fillStyle = '#63BDBB';
      context.globalAlpha = 0.3 + 0.7 * glow;
      context.beginPath();
      context.arc(width / 2, height * 0.74, height / 70, 0, Math.PI * 2);
      context.fill();
      context.globalAlpha = 1;
      return canvas;
    };
    try {
      await encodeCover(plan, port, paint);
    } catch (error) {
      tell({ type: 'failed', message: messageOf(error) });
    }
  }

  #report(now: number): void {
    this.#reportedAt = now;
    const since = performance.now() - 1000;
    this.#recent = this.#recent.filter((at) => at >= since);
    const report: StageReport = {
      // A second that starts just before a picture holds one more than the rate.
      fps: Math.min(this.#recent.length, Math.ceil(this.#grid.fps)),
      ...this.#counts,
      composeMs: this.#composeMs,
      programmeSeconds: now,
      programmeEpochMs: performance.timeOrigin + performance.now() - this.#clock.now() * 1000,
      soundClock: this.#clock.running,
      clockSlips: this.#clock.slips,
      encoding: this.#encoder && {
        codec: this.#encoder.plan.codec,
        width: this.#encoder.plan.width,
        height: this.#encoder.plan.height,
        governor: this.#encoder.report(),
      },
    };
    tell({ type: 'report', report });
    tell({ type: 'inputs', inputs: this.#inputs.states() });
  }
}

function programmeContext(canvas: OffscreenCanvas): DrawContext {
  return canvas.getContext('2d', { alpha: false })!;
}

function makeCanvas(width: number, height: number): { canvas: OffscreenCanvas; context: DrawContext } {
  const canvas = new OffscreenCanvas(width, height);
  return { canvas, context: programmeContext(canvas) };
}

const stage = new Stage();
workerScope.onmessage = ({ data }: MessageEvent<ToStage>) => stage.take(data);
