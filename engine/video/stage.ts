/**
 * Composes the programme on an exact grid of pictures and hands it to the encoders. Has no timer: whoever paces it asks how
 * long to wait and calls `tick`.
 */
import type { Clock } from '../../core/time/clock';
import { PaceKeeper } from '../../core/delivery/pace-keeper';
import { PictureGrid } from '../../core/delivery/picture-grid';
import { messageOf } from '../../core/fault';
import type { Stop } from '../../core/motion/programme';
import { planInUse } from '../../core/delivery/live-plan';
import type { PlanSettings } from '../../core/delivery/settings';
import { changesApplied, recordsOf, type ShowDocument } from '../../core/show/document';
import { inputsNeeded, inputsOfScene, sceneAfter } from '../../core/show/inputs-shown';
import { FRAME_NAMES, type FrameName } from '../../core/show/records';
import type { EncodePlan, FromStage, InputState, StageReport, ToStage } from '../../protocol/engine';
import { Compositor } from './compositor';
import { loadFonts } from './load-fonts';
import { isForAudience, tellAudience } from './tell-audience';
import { Countdowns } from './countdowns';
import { frameOf, type EncodeId } from '../../core/delivery/encodes';
import { FrameOutput, type EncodeChange } from './frame-output';
import { ProgrammeClock } from './programme-clock';
import { LiveAudience } from './live-audience';
import { MadeUpViewers } from './made-up-viewers';
import { OnAirScenes } from './on-air';
import { OwnFonts } from './own-fonts';
import type { PictureSource } from './sources/picture-source';
import { MaskPictures } from './mask-pictures';
import { InputSources } from './sources/input-sources';
import { SceneShots } from './scene-shots';
import { StageViews } from './stage-views';
import { Stingers } from './stingers';
import { Trial } from './trial';

const REPORT_SECONDS = 0.5;
/** Longer stumbles are left as a gap but for their keyframes: repeating them would only make the next ones late. */
const MAX_BRIDGED = 5;
/** Of a longer one, such as a computer that slept, the rest is a gap. */
const KEYFRAMES_BRIDGED_SECONDS = 10;
/** After a skip the machine counts as short of time for this long, and views are drawn every third picture. */
const SHORT_SECONDS = 3;
const VIEWS_WHEN_SHORT = 3;
/** Where nothing is encoded yet. */
const KEYFRAME_SECONDS = 2;
/** Views of the page show movement well enough at this rate; what a hand does they show with the next picture. */
const VIEWS_PER_SECOND = 15;
/** After these, views show something else than before. */
const OF_A_HAND = new Set<ToStage['type']>([
  'document',
  'edit',
  'commands',
  'clips',
  'addView',
  'sizeView',
  'partView',
  'seeView',
  'visible',
]);
/** A picture that starts later than half its time is late. */
const LATE_SHARE = 0.5;
/** After a picture that is done later than this share of its time the page's own views wait. */
const BEHIND_SHARE = 0.6;
const NO_COUNTS = {
  ...{ due: 0, composed: 0, late: 0, skipped: 0, gaveWay: 0 },
  ...{ encoderBusy: 0, leftOut: 0, lineDropped: 0 },
};

export interface StagePorts {
  /** To the page; may be called at any time. */
  tell: (message: FromStage) => void;
  /** Where fonts of the words on the picture go. */
  fonts: FontFaceSet;
}

export class Stage {
  readonly #failed: (message: string) => void;
  readonly #clock: ProgrammeClock;
  readonly #inputs: InputSources;
  readonly #audience: LiveAudience;
  readonly #stingers = new Stingers();
  readonly #compositor: Compositor;
  /** For a scene that is edited while viewers see it held. */
  readonly #unseen: Compositor;
  readonly #trial: Trial;
  readonly #shots: SceneShots;
  #heldVersion = 0;
  readonly #ownFonts: OwnFonts;
  readonly #madeUp: MadeUpViewers;
  readonly #outputs = new Map<FrameName | 'clean', FrameOutput>();
  readonly #views: StageViews;
  #document: ShowDocument = new Map();
  #grid = new PictureGrid(30);
  #keeper = new PaceKeeper(30, 60, 'sharpness');
  #keyframeSeconds = KEYFRAME_SECONDS;
  #keep: PlanSettings['keep'] = 'sharpness';
  readonly #onAir: OnAirScenes;
  readonly #countdowns: Countdowns;
  #edit: Stop | null = null;
  #next = 0;
  #counts = { ...NO_COUNTS };
  #run = 0;
  #composeMs = 0;
  /** Of pictures that were drawn, milliseconds for a million pixels; null until one was. */
  #drawMs: number | null = null;
  #recent: number[] = [];
  #reportedAt = 0;
  #lastSkip = -Infinity;
  /** The picture that views showed last, and the one after which inputs were looked at last. */
  #viewed = -Infinity;
  #watched = -Infinity;
  /** Something was done to what views show: they follow a hand at once. */
  #changed = true;
  /** What is to be encoded otherwise from the next keyframe on. */
  #coming: { fps: number; keyframeSeconds: number; changes: EncodeChange[] } | null = null;
  /** The waiting alerts that were told last. */
  #keptAlerts = '';
  /** Fonts are there: pictures may begin. */
  onReady: () => void = () => {};

  /** @param clock the wall's time; the sound thread's takes its place while that runs */
  constructor(
    readonly clock: Clock,
    readonly ports: StagePorts,
  ) {
    const { tell } = ports;
    this.#failed = (message) => tell({ type: 'failed', message });
    const failed = this.#failed;
    this.#clock = new ProgrammeClock(() => clock.nowMs() / 1000);
    this.#inputs = new InputSources(
      clock,
      (inputId, thenNext) => tell({ type: 'clipsEnded', inputId, thenNext }),
      failed,
    );
    this.#audience = new LiveAudience(clock, (alert, words, muted) =>
      tell({ type: 'alertBegan', ruleId: alert.rule.id, words, muted }),
    );
    this.#onAir = new OnAirScenes(this.#stingers, this.#audience, tell);
    this.#countdowns = new Countdowns(this.#audience, (sceneId, thenNext) =>
      tell({ type: 'countdownEnded', sceneId, thenNext }),
    );
    this.#ownFonts = new OwnFonts(ports.fonts, failed);
    const live = {
      sources: this.#inputs.sources,
      gradedFor: (inputId: string, source: PictureSource, gradeId: string) =>
        this.#inputs.gradedFor(inputId, source, gradeId),
      stingers: this.#stingers,
      masks: new MaskPictures(failed),
      fonts: this.#ownFonts,
    };
    this.#compositor = new Compositor({ ...live, audience: this.#audience });
    this.#unseen = new Compositor({ ...live, audience: this.#audience });
    this.#shots = new SceneShots(this.#compositor);
    this.#trial = new Trial({ ...live, audience: this.#audience }, failed);
    this.#madeUp = new MadeUpViewers(clock, live);
    this.#views = new StageViews(this.#compositor);
  }

  /** Until the next picture is due, ms; negative when it is late. */
  get waitMs(): number {
    return (this.#grid.seconds(this.#next) - this.#clock.now()) * 1000;
  }

  /** Pictures that encoders were given and have not given out yet. */
  get encoding(): number {
    let pictures = 0;
    for (const output of this.#outputs.values()) pictures += output.encoding;
    return pictures;
  }

  /** Whether everything that is decoded ahead, for the next pictures, is there. */
  get caughtUp(): boolean {
    return (
      this.#inputs.caughtUp &&
      this.#stingers.caughtUp &&
      this.#audience.pictures.caughtUp &&
      this.#ownFonts.caughtUp
    );
  }

  /** How all inputs do. */
  get inputs(): InputState[] {
    return this.#inputs.states();
  }

  /** Views are drawn with one of so many pictures. */
  get #viewEvery(): number {
    return Math.max(1, Math.round(this.#grid.fps / VIEWS_PER_SECOND));
  }

  take(message: ToStage): void {
    if (OF_A_HAND.has(message.type)) this.#changed = true;
    if (isForAudience(message)) {
      tellAudience(this.#audience, message, this.#clock.now());
      if (message.type === 'alertOrder') this.#keepAlerts();
      return;
    }
    switch (message.type) {
      case 'start':
        this.#clock.attach(new Int32Array(message.sound.clock));
        this.#audience.voices.attach(message.sound.meters);
        // Words drawn before their font is there keep the stand-in font: fonts come first.
        void loadFonts(message.fonts, this.ports.fonts, this.#failed).then(() => {
          this.#next = this.#grid.indexAt(this.#clock.now()) + 1;
          this.onReady();
        });
        break;
      case 'document':
        this.#document = changesApplied(this.#document, message.put, message.removed);
        this.#inputs.setDocument(this.#document);
        this.#audience.setDocument(this.#document);
        this.#followHeld();
        this.#stingers.setDocument(this.#document);
        this.#ownFonts.setDocument(this.#document);
        this.#showInputs();
        if ((planInUse(this.#document)?.keep ?? this.#keep) !== this.#keep)
          this.#keepPace(this.#keyframeSeconds);
        break;
      case 'size':
        this.#size(message.frames, message.fps);
        break;
      case 'commands':
        this.#obey(message);
        break;
      case 'edit':
        // A trial ends in the pose that is chosen with it.
        if (message.sceneId !== this.#edit?.sceneId) this.#trial.end();
        this.#edit = { sceneId: message.sceneId, poseId: message.poseId };
        this.#showInputs();
        break;
      case 'tryOut':
        this.#trial.begin(message, this.#clock.now());
        this.#showInputs();
        break;
      case 'addView':
        this.#views.add(message.viewId, message.canvas, message.subject, message.windowId);
        this.#showInputs();
        break;
      case 'sizeView':
        this.#views.size(message.viewId, message.width, message.height);
        break;
      case 'partView':
        this.#views.setPart(message.viewId, message.part);
        break;
      case 'seeView':
        this.#views.see(message.viewId, message.seen);
        break;
      case 'removeView':
        this.#views.remove(message.viewId);
        this.#showInputs();
        break;
      case 'visible':
        this.#views.setVisible(message.windowId, message.visible);
        break;
      case 'track':
        this.#inputs.attachTrack(message.inputId, message.frames);
        break;
      case 'inputProblem':
        this.#inputs.problem(message.inputId, message.problem);
        break;
      case 'inputEmpty':
        this.#inputs.empty(message.inputId, message.words);
        break;
      case 'fileSound':
        this.#inputs.attachSound(message.inputId, message.ring);
        break;
      case 'encode': {
        const { encode, plan, port } = message;
        // Its pictures may be numbered otherwise than those until the change.
        if (this.#coming) return this.#change([message], this.#coming.fps);
        const output = this.#outputOf(encode === 'clean' ? encode : frameOf(encode), plan);
        if ([...this.#outputs.values()].every((o) => o.report().length === 0)) {
          this.#counts = { ...NO_COUNTS };
          this.#run += 1;
        }
        this.#pace(plan.fps);
        this.#keepPace(plan.keyframeSeconds);
        // It may have been drawn for nobody until now.
        output.compose(this.#onAir.now, this.#clock.now());
        output.encode(encode, plan, port, recordsOf(this.#document, 'show')[0]?.name ?? '', (text) =>
          this.ports.tell({ type: 'encodeFailed', message: text }),
        );
        break;
      }
      case 'change':
        this.#change(message.encodes, message.fps);
        break;
      case 'clips':
        this.#inputs.order(message.inputId, message.order);
        break;
      case 'sample': {
        const colour = this.#inputs.sources.get(message.inputId)?.sample(message.x, message.y) ?? null;
        this.ports.tell({ type: 'sampled', id: message.id, colour });
        break;
      }
      case 'shoot': {
        const { id, sceneId } = message;
        void this.#shots
          .take(this.#document, sceneId, this.#clock.now())
          // It is asked for again within seconds; a tile without a picture has its name.
          .catch(() => null)
          .then((jpeg) => this.ports.tell({ type: 'shot', id, jpeg }));
        break;
      }
      case 'tap':
        this.#outputs.get(message.frame)?.tap(message.port, message.count, message.goesOn);
        break;
      case 'stopEncode':
        for (const change of this.#coming?.changes ?? []) change.letBe();
        this.#coming = null;
        for (const output of this.#outputs.values()) output.stopEncode();
        this.#scale();
        // Composed for its encoder alone.
        this.#outputs.delete('clean');
        break;
    }
  }

  /** Commands take hold at the next picture of the grid: everybody is told which. */
  #obey({ id, commands, sinceMs }: Extract<ToStage, { type: 'commands' }>): void {
    const now = this.#clock.now();
    const index = Math.max(this.#next, this.#grid.indexAt(now));
    const at = this.#grid.seconds(index);
    for (const command of commands)
      if (this.#onAir.obey(command, at, this.#grid.seconds(index - 1), this.#document, sinceMs))
        for (const output of this.#outputs.values()) output.cut();
    if (this.#onAir.heldVersion !== this.#heldVersion) this.#followHeld();
    this.#showInputs();
    const atMs = this.clock.nowMs() + (at - now) * 1000;
    this.ports.tell({ type: 'stamped', id, atSeconds: at, atMs });
  }

  /** Viewers see the show with its held scenes as they were. */
  #followHeld(): void {
    this.#heldVersion = this.#onAir.heldVersion;
    this.#compositor.setDocument(this.#onAir.seen(this.#document));
    if (this.#onAir.holding) this.#unseen.setDocument(this.#document);
  }

  /** The scene in the editor, where it is what viewers see. */
  get #editSeen(): Stop | null {
    return this.#onAir.holds(this.#edit?.sceneId) ? null : this.#edit;
  }

  /** From the next keyframe on. Of two changes between two keyframes both are made, one after the other. */
  #change(encodes: readonly { encode: EncodeId; plan: EncodePlan; port: MessagePort }[], fps: number): void {
    const title = recordsOf(this.#document, 'show')[0]?.name ?? '';
    const failed = (text: string) => this.ports.tell({ type: 'encodeFailed', message: text });
    const changes = encodes.map(({ encode, plan, port }) => {
      const output = this.#outputOf(encode === 'clean' ? encode : frameOf(encode), plan);
      return output.change(encode, plan, port, title, failed);
    });
    const { keyframeSeconds } = encodes[0].plan;
    this.#coming = { fps, keyframeSeconds, changes: [...(this.#coming?.changes ?? []), ...changes] };
  }

  #outputOf(of: FrameName | 'clean', size: { width: number; height: number }): FrameOutput {
    let output = this.#outputs.get(of);
    if (!output) {
      output = new FrameOutput(of === 'clean' ? frameOf(of) : of, size, this.#compositor, of === 'clean');
      this.#outputs.set(of, output);
    }
    return output;
  }

  /** Inputs that are not kept ready are opened for the scenes on air, in the editor, and looked at by themselves. */
  #showInputs(): void {
    const onAir = new Set<string>();
    const scenes = this.#onAir.scenes();
    const seen = this.#onAir.seen(this.#document);
    for (const id of scenes) for (const input of inputsOfScene(seen, id)) onAir.add(input);
    const shown = this.#views.inputs();
    for (const id of onAir) shown.add(id);
    // What comes next is decoded ahead: the first press on it must not stutter.
    const next = this.#onAir.now && sceneAfter(this.#document, this.#onAir.now.sceneId);
    for (const id of [
      ...scenes,
      ...this.#trial.scenes(),
      ...(this.#edit ? [this.#edit.sceneId] : []),
      ...(next ? [next] : []),
    ])
      for (const input of inputsNeeded(this.#document, id)) shown.add(input);
    this.#inputs.setShown(shown, onAir);
  }

  #size(frames: Extract<ToStage, { type: 'size' }>['frames'], fps: number): void {
    for (const frame of FRAME_NAMES) {
      const size = frames[frame];
      if (size) this.#outputOf(frame, size).resize(size);
      else this.#outputs.delete(frame);
    }
    this.#pace(fps);
  }

  #pace(fps: number): void {
    if (this.#grid.fps === fps) return;
    this.#grid = new PictureGrid(fps);
    this.#keepPace(KEYFRAME_SECONDS);
    this.#next = this.#grid.indexAt(this.#clock.now()) + 1;
    // Pictures are numbered anew: what was shown under the old numbers says nothing.
    this.#viewed = -Infinity;
    this.#watched = -Infinity;
  }

  /** Everything is tried again. @param keyframeSeconds between keyframes */
  #keepPace(keyframeSeconds: number): void {
    this.#keyframeSeconds = keyframeSeconds;
    this.#keep = planInUse(this.#document)?.keep ?? 'sharpness';
    this.#keeper = new PaceKeeper(this.#grid.fps, this.#grid.interval(keyframeSeconds), this.#keep);
    this.#scale();
  }

  get #sends(): boolean {
    for (const output of this.#outputs.values()) if (output.encodes) return true;
    return false;
  }

  /** What is drawn is as large as there is time for; what is sent keeps its size. Off air there is no hurry. */
  #scale(): void {
    for (const output of this.#outputs.values()) output.scaleTo(output.encodes ? this.#keeper.scale : 1);
    this.#changed = true;
  }

  /** Composes the picture that is due, if one is; resolves when the encoders have it. */
  async tick(): Promise<void> {
    try {
      const now = this.#clock.now();
      this.#changeOver(now);
      const due = this.#wanted(this.#grid.indexAt(now));
      if (due >= this.#next) {
        const by = this.#keeper.divisor;
        // A late picture is skipped and counted, never shifted. Where a broadcast ends, what is counted from is another one.
        const skipped = Math.floor((due - this.#next) / by);
        this.#counts.due += (skipped + 1) * by;
        this.#counts.skipped += skipped;
        this.#counts.gaveWay += (skipped + 1) * (by - 1);
        if (skipped > 0) this.#lastSkip = now;
        // A stumble is bridged with the last picture, so that keyframes stay on the grid, and after a short one the rate.
        const bridged = Math.min(skipped, Math.ceil((KEYFRAMES_BRIDGED_SECONDS * this.#grid.fps) / by));
        for (let i = bridged; i > 0; i--) this.#hand(due - i * by, skipped > MAX_BRIDGED);
        if (now - this.#grid.seconds(due) > LATE_SHARE / this.#grid.fps) this.#counts.late += 1;
        await this.#picture(due);
        const workSeconds = this.#clock.now() - this.#grid.seconds(due);
        if (this.#keeper.made({ at: now, missed: skipped, workSeconds })) this.#scale();
        this.#next = this.#wanted(due) + this.#keeper.divisor;
      }
      if (now - this.#reportedAt >= REPORT_SECONDS) this.#report(now);
    } catch (error) {
      this.ports.tell({
        type: 'failed',
        message: `Video engine error: ${messageOf(error)}. Reload the studio.`,
      });
      this.#next += 1;
    }
  }

  /** What was asked to be encoded otherwise is, where a group of pictures begins: a broadcast goes on without a gap. */
  #changeOver(now: number): void {
    const due = this.#grid.indexAt(now);
    if (!this.#coming || due !== this.#next) return;
    const outputs = [...this.#outputs.values()].filter((output) => output.encodes);
    if (outputs.length > 0 && !outputs.some((output) => output.keyframeDue(due))) return;
    const { fps, keyframeSeconds, changes } = this.#coming;
    this.#coming = null;
    for (const { takeOver } of changes) takeOver();
    const last = this.#grid.seconds(due - 1);
    this.#pace(fps);
    this.#keepPace(keyframeSeconds);
    // The picture that is due now is the first of the new ones, as long as stamps rise.
    this.#next = Math.max(this.#grid.indexAt(last) + 1, this.#grid.indexAt(now));
    this.#changed = true;
  }

  /** The last picture up to this one that is made at the present pace; keyframes are among them. */
  #wanted(index: number): number {
    let phase = 0;
    for (const output of this.#outputs.values()) phase ||= output.firstIndex ?? 0;
    const by = this.#keeper.divisor;
    return index - ((((index - phase) % by) + by) % by);
  }

  async #picture(index: number): Promise<void> {
    const seconds = this.#grid.seconds(index);
    const started = this.clock.nowMs();
    this.#inputs.advance(seconds);
    await this.#inputs.prepare();
    this.#audience.advance(seconds);
    this.#stingers.advance(seconds);
    const fields = this.#audience.liveFields(seconds);
    this.#compositor.setLiveFields(fields);
    this.#unseen.setLiveFields(fields);
    if (this.#trial.advance(this.#document, fields, seconds)) this.#showInputs();
    this.#countdowns.look(this.#onAir.now, this.#document, seconds);
    if (this.#onAir.settle(seconds, this.#document)) {
      this.#showInputs();
      if (this.#onAir.heldVersion !== this.#heldVersion) this.#followHeld();
    }
    // Viewers come first: while the machine is short of time the page's own views get fewer pictures.
    const short =
      seconds - this.#lastSkip < SHORT_SECONDS || this.#clock.now() - seconds > BEHIND_SHARE / this.#grid.fps;
    const free = !short || index - this.#watched >= VIEWS_WHEN_SHORT;
    // What is tried is looked at for how it moves.
    const moves = this.#changed || this.#trial.running;
    const looked = free && this.#views.watched && (moves || index - this.#viewed >= this.#viewEvery);
    // What is neither sent nor looked at is not drawn.
    let pixels = 0;
    for (const output of this.#outputs.values())
      if (output.sends || (looked && this.#views.shows(output.frame, this.#onAir.now, this.#editSeen))) {
        output.compose(this.#onAir.now, seconds);
        pixels += output.canvas.width * output.canvas.height;
      }
    if (pixels > 0) {
      const ms = ((this.clock.nowMs() - started) / pixels) * 1e6;
      this.#drawMs = this.#drawMs === null ? ms : this.#drawMs + (ms - this.#drawMs) * 0.1;
    }
    this.#counts.composed += 1;
    this.#recent.push(started);
    this.#hand(index);
    if (looked) {
      this.#show(index, seconds);
      this.#viewed = index;
      this.#changed = false;
    }
    if (free) {
      this.#inputs.watch();
      this.#watched = index;
    }
    this.#composeMs += (this.clock.nowMs() - started - this.#composeMs) * 0.05;
  }

  /** Gives what is on the canvases to the encoders as picture `index`. */
  #hand(index: number, keyframesOnly = false): void {
    for (const result of [...this.#outputs.values()].flatMap((output) => output.hand(index, keyframesOnly))) {
      if (result === 'busy') this.#counts.encoderBusy += 1;
      else if (result === 'leftOut') this.#counts.leftOut += 1;
      else if (result === 'line') this.#counts.lineDropped += 1;
    }
  }

  #show(index: number, seconds: number): void {
    const show = recordsOf(this.#document, 'show')[0];
    if (!show) return;
    const away = this.#edit !== null && this.#edit.sceneId !== this.#onAir.now?.sceneId;
    const layingOut = this.#onAir.holds(this.#edit?.sceneId)
      ? this.#unseen
      : away && this.#audience.isEmpty
        ? this.#madeUp.compositorAt(this.#document, seconds)
        : null;
    this.#views.draw(index, seconds, {
      layingOut,
      tried: (frame, size) => this.#trial.canvasOf(frame, size),
      onAir: this.#onAir.now,
      edit: this.#edit,
      canvasOf: (frame) => this.#outputs.get(frame)?.canvas ?? null,
      frameSize: (frame) => show.frames[frame],
      source: (inputId) => this.#inputs.sources.get(inputId),
      alertPreview: (ruleId, at) => this.#audience.preview(ruleId, at),
    });
  }

  /** Tells what waits when it is something else than was told last. */
  #keepAlerts(): void {
    const kept = this.#audience.kept();
    const key = `${kept.lastSeq}/${kept.paused}/${kept.muted}/${JSON.stringify(kept.waiting.map((w) => [w.event.seq, w.events]))}`;
    if (key === this.#keptAlerts) return;
    this.#keptAlerts = key;
    this.ports.tell({ type: 'alertsKept', kept });
  }

  #report(now: number): void {
    this.#reportedAt = now;
    const since = this.clock.nowMs() - 1000;
    this.#recent = this.#recent.filter((at) => at >= since);
    const report: StageReport = {
      // A second that starts just before a picture holds one more than the rate.
      fps: Math.min(this.#recent.length, Math.ceil(this.#grid.fps)),
      run: this.#run,
      ...this.#counts,
      pace: this.#grid.fps / this.#keeper.divisor,
      scale: this.#sends ? this.#keeper.scale : 1,
      composeMs: this.#composeMs,
      drawMsPerMegapixel: this.#drawMs,
      programmeSeconds: now,
      programmeEpochMs: this.clock.nowMs() - this.#clock.now() * 1000,
      soundClock: this.#clock.running,
      clockSlips: this.#clock.slips,
      alerts: this.#audience.report(now),
      encodes: [...this.#outputs.values()].flatMap((output) => output.report()),
    };
    this.ports.tell({ type: 'report', report });
    this.#keepAlerts();
    this.ports.tell({ type: 'inputs', inputs: this.inputs });
  }
}
