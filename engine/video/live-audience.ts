import { AlertEngine, type AlertOrder, type RunningAlert } from '../../core/audience/alert-engine';
import { alertText, amountOf, exampleEvent, ruleFor } from '../../core/audience/alert-rules';
import { AudienceBook, emptyBook, type BookSnapshot } from '../../core/audience/book';
import { isWelcome, shownMessage, type ShownMessage } from '../../core/audience/chat-filter';
import {
  concerns,
  keyOf,
  PLAIN_EVENT,
  type AudienceEvent,
  type ChatMessage,
  type Moderation,
  type ViewerEvent,
} from '../../core/audience/events';
import { audienceFields } from '../../core/audience/fields';
import { START_AUDIENCE, type AudienceSettings } from '../../core/audience/settings';
import {
  viewersAt,
  viewerSum,
  type AudienceNow,
  type TitleNow,
  type ReadOutNow,
  type ViewerReading,
} from '../../core/audience/widgets/audience-now';
import type { PollResult } from '../../core/audience/own-poll';
import type { TitleWords } from '../../core/programme/commands';
import { recordsOf, type ShowDocument } from '../../core/show/document';
import type { Clock } from '../../core/time/clock';
import { layersOfScene } from '../../core/show/layers';
import { posed } from '../../core/show/poses';
import { type AlertRuleRecord, type GoalRecord } from '../../core/show/audience-records';
import { DEFAULT_TEXT_STYLE } from '../../core/show/records';
import type { AlertQueueReport, KeptAlerts } from '../../protocol/engine';
import { AlertPictures } from './alert-pictures';
import type { AlertPreview } from './paint-alert';
import { MarkPictures } from './mark-pictures';
import { SpeakingVoices } from './speaking-voices';

/** Chat kept for the panels. */
const MAX_CHAT = 120;
/** What waited longer ago than this, or came longer ago, is no news any more. */
const KEPT_MS = 600_000;
/** What came longer ago is history and sets off nothing: a desk that opens later is told of it too. */
const NEWS_MS = 30_000;
/** Music of a scene fades in with it and needs a moment to open. */
const MUSIC_WITHIN_MS = 3000;
/** Panels take new messages so often: faster nobody reads, and each time they are laid out anew. */
const CHAT_SECONDS = 0.1;
/** And so often while so many come in between, which nobody reads at all. */
const FLOOD_SECONDS = 0.35;
const FLOOD_MESSAGES = 3;
/** What is drawn from events, and fields in texts, follow them so often at most. */
const EVENTS_SECONDS = 0.1;
/** Between two runs of a preview, seconds. */
const PREVIEW_PAUSE = 0.8;
/** The wall clock is taken over when it is off by more: it was set, or the sound clock stood still. */
const CLOCK_STEP_MS = 250;

/** What the stage knows of the audience: everything that widgets, chat and alerts are drawn from. */
export class LiveAudience {
  readonly alerts = new AlertEngine();
  readonly pictures = new AlertPictures();
  readonly voices = new SpeakingVoices();
  readonly emotes: MarkPictures;
  #book = new AudienceBook(emptyBook(0));
  /** Messages with how they are shown, null for those that stay off: cleaning words is dear, and is done once for each. */
  #chat: { message: ChatMessage; sinceMs: number; shown: ShownMessage | null }[] = [];
  #shown: ShownMessage[] = [];
  #shownVersion = 0;
  #shownAt = -Infinity;
  /** Messages have come that the panels do not have yet. */
  #chatted = 0;
  /** How far apart panels take messages just now. */
  #chatSeconds = CHAT_SECONDS;
  #eventStamp = '';
  #eventsAt = -Infinity;
  #rules: readonly AlertRuleRecord[] = [];
  #goals: readonly GoalRecord[] = [];
  #settings: AudienceSettings = START_AUDIENCE;
  #fields: Readonly<Record<string, string>> = {};
  #document: ShowDocument = new Map();
  readonly #viewers = new Map<string, ViewerReading>();
  #readOut: ReadOutNow | null = null;
  #broadcastSinceMs: number | null = null;
  #onAirSceneId: string | null = null;
  #poseId: string | null = null;
  /** When a scene came on air last, and first. */
  readonly #since = new Map<string, number>();
  readonly #first = new Map<string, number>();
  #musicEndsMs: number | null = null;
  readonly #musicEnd = new Map<string, number>();
  #epochMs: number | null = null;
  #zoneOffsetMinutes: number;
  #told = 0;
  #worded: { what: string; settings: AudienceSettings | null; words: string } = {
    what: '',
    settings: null,
    words: '',
  };
  /** The last entry that was looked at. */
  #lastSeq = 0;
  /** Entries after this one came while no page was there; null when that is not known or was seen to. */
  #missedAfter: number | null = null;
  #lagMs: number | null = null;
  #title: TitleNow | null = null;
  #poll: PollResult | null = null;
  #liveAt = -Infinity;
  #live: { key: string; settings: unknown; goals: unknown; fields: Record<string, string> } = {
    key: '',
    settings: null,
    goals: null,
    fields: {},
  };

  /** @param onAlert an alert has begun: its sound is due */
  constructor(
    readonly clock: Clock,
    readonly onAlert: (alert: RunningAlert, words: string, muted: boolean) => void,
  ) {
    this.#zoneOffsetMinutes = new Date(clock.dateMs()).getTimezoneOffset();
    this.emotes = new MarkPictures();
  }

  setDocument(document: ShowDocument): void {
    this.#document = document;
    this.#rules = recordsOf(document, 'alertRule');
    this.#goals = recordsOf(document, 'goal');
    const show = recordsOf(document, 'show')[0];
    this.#fields = show?.fields ?? {};
    if (show && show.audience !== this.#settings) {
      this.#settings = show.audience;
      for (const entry of this.#chat) entry.shown = this.#shownOf(entry.message, entry.sinceMs);
      this.#show();
    }
    this.pictures.setRules(this.#rules);
  }

  /** @param seconds programme time */
  wallMs(seconds: number): number {
    const said = this.clock.dateMs() - seconds * 1000;
    // Calls come a little before or after the picture they are for; only a step is followed.
    if (this.#epochMs === null || Math.abs(said - this.#epochMs) > CLOCK_STEP_MS) {
      this.#epochMs = said;
      this.#zoneOffsetMinutes = new Date(said).getTimezoneOffset();
    }
    return this.#epochMs + seconds * 1000;
  }

  setOnAir(sceneId: string, seconds: number, sinceMs?: number): void {
    if (this.#onAirSceneId !== sceneId) {
      const now = sinceMs ?? this.wallMs(seconds);
      this.#since.set(sceneId, now);
      if (!this.#first.has(sceneId)) this.#first.set(sceneId, now);
      // What plays now says how long; what comes later must not make a roll jump.
      if (this.#musicEndsMs === null) this.#musicEnd.delete(sceneId);
      else this.#musicEnd.set(sceneId, this.#musicEndsMs);
    }
    this.#onAirSceneId = sceneId;
  }

  /** Once for each picture. */
  advance(seconds: number): void {
    if (this.#chatted > 0 && Math.abs(seconds - this.#shownAt) >= this.#chatSeconds) {
      // By rate, so that a flood is one however far apart it is taken.
      const flood = this.#chatted >= (FLOOD_MESSAGES * this.#chatSeconds) / CHAT_SECONDS;
      this.#chatSeconds = flood ? FLOOD_SECONDS : CHAT_SECONDS;
      this.#shownAt = seconds;
      this.#show();
    }
    if (Math.abs(seconds - this.#eventsAt) >= EVENTS_SECONDS && this.#eventStamp !== this.#book.eventStamp) {
      this.#eventsAt = seconds;
      this.#eventStamp = this.#book.eventStamp;
    }
    this.#heed(seconds);
    this.pictures.advance(seconds);
    this.voices.advance(seconds);
    this.emotes.advance(seconds);
    // An alert begins also while nothing draws it, so that its sound comes.
    this.alertAt(seconds);
  }

  /** @param words null: the title that is on leaves @param seconds until it leaves by itself; null stays */
  setTitle(words: TitleWords | null, at: number, seconds: number | null): void {
    const nowMs = this.wallMs(at);
    if (words)
      this.#title = { ...words, sinceMs: nowMs, untilMs: seconds === null ? null : nowMs + seconds * 1000 };
    else if (this.#title && (this.#title.untilMs === null || this.#title.untilMs > nowMs))
      this.#title = { ...this.#title, untilMs: nowMs };
  }

  setPoll(poll: PollResult | null): void {
    this.#poll = poll;
  }

  setPose(poseId: string | null): void {
    this.#poseId = poseId;
  }

  /** Alerts wait while the scene on air wants quiet, or has no place for them. */
  #heed(seconds: number): void {
    const id = this.#onAirSceneId;
    const place =
      id !== null &&
      !this.#settings.quietSceneIds.includes(id) &&
      layersOfScene(posed(this.#document, id, this.#poseId), id).some(
        (l) => l.visible && l.content.type === 'alert',
      );
    if (place === this.alerts.quiet) this.alerts.order(place ? 'unquiet' : 'quiet', seconds);
  }

  /** What waits now. */
  kept(): KeptAlerts {
    const { paused, muted } = this.alerts;
    return {
      savedMs: this.clock.dateMs(),
      lastSeq: this.#lastSeq,
      paused,
      muted,
      waiting: this.alerts.kept(),
    };
  }

  /** Takes up what waited before the page was opened again; what came in between comes with the book. */
  restore({ savedMs, lastSeq, paused, muted, waiting }: KeptAlerts, seconds: number): void {
    if (this.clock.dateMs() - savedMs > KEPT_MS) return;
    if (paused) this.alerts.order('pause', seconds);
    if (muted) this.alerts.order('mute', seconds);
    this.#missedAfter = lastSeq;
    this.alerts.restore(waiting, this.#rules, seconds);
  }

  /** Alerts of events that came while no page was there to show them. */
  #catchUp(events: readonly ViewerEvent[], seconds: number): void {
    if (this.#missedAfter !== null)
      for (const event of events)
        if (event.seq > this.#missedAfter && !event.test && this.clock.dateMs() - event.atMs < KEPT_MS)
          this.#alert(event, seconds);
    this.#missedAfter = null;
  }

  open(book: BookSnapshot, chat: readonly ChatMessage[], seconds: number): void {
    this.#book = new AudienceBook(book);
    this.#catchUp(book.recent, seconds);
    this.#lastSeq = Math.max(this.#lastSeq, ...book.recent.map((event) => event.seq));
    this.#chat = chat
      .slice(-MAX_CHAT)
      .map((message) => ({ message, sinceMs: message.atMs, shown: this.#shownOf(message, message.atMs) }));
    this.#show();
  }

  /** @param cameMs when they came to this page: what is told again to a desk that opens later is no news */
  take(events: readonly AudienceEvent[], seconds: number, cameMs = this.clock.dateMs()): void {
    const now = this.wallMs(seconds);
    for (const event of events) {
      this.#lastSeq = Math.max(this.#lastSeq, event.seq);
      this.#book.enter(event, this.#goals, this.#settings);
      if (event.type === 'chat') {
        // It counts from when it came here: clocks of platforms differ.
        this.#chat.push({ message: event, sinceMs: now, shown: this.#shownOf(event, now) });
        if (this.#chat.length > MAX_CHAT) this.#chat.shift();
        this.#chatted += 1;
      } else if (this.clock.dateMs() - cameMs < NEWS_MS) this.#alert(event, seconds);
    }
  }

  /** Nobody has done or said anything yet. */
  get isEmpty(): boolean {
    return this.#chat.length === 0 && Object.keys(this.#book.facts.counts).length === 0;
  }

  moderate(moderation: Moderation): void {
    const before = this.#chat.length;
    this.#chat = this.#chat.filter(({ message }) => !concerns(moderation, message));
    if (this.#chat.length !== before) this.#show();
  }

  order(order: AlertOrder, seconds: number): void {
    this.alerts.order(order, seconds);
  }

  setViewers(platform: string, viewers: number | null, seconds: number): void {
    const now = this.wallMs(seconds);
    if (viewers === null) {
      this.#viewers.delete(platform);
      return;
    }
    const reading = this.#viewers.get(platform);
    if (reading?.now === viewers) return;
    this.#viewers.set(platform, {
      before: reading ? viewersAt(reading, now) : viewers,
      now: viewers,
      sinceMs: now,
    });
  }

  setReadOut(message: ChatMessage | null, seconds: number): void {
    if (message === null) this.#readOut = null;
    else if (this.#readOut?.message.key !== keyOf(message))
      this.#readOut = { message: shownMessage(message, this.#settings), sinceMs: this.wallMs(seconds) };
  }

  /** Music that begins within a few seconds of a scene belongs to it. */
  setMusicEnd(endsAtMs: number | null, seconds: number): void {
    this.#musicEndsMs = endsAtMs;
    const id = this.#onAirSceneId;
    if (id === null || endsAtMs === null) return;
    if (this.wallMs(seconds) - (this.#since.get(id) ?? 0) < MUSIC_WITHIN_MS) this.#musicEnd.set(id, endsAtMs);
  }

  setBroadcast(sinceMs: number | null): void {
    this.#broadcastSinceMs = sinceMs;
  }

  /** What widgets of a scene are drawn from. */
  now(sceneId: string, seconds: number): AudienceNow {
    const nowMs = this.wallMs(seconds);
    return {
      nowMs,
      zoneOffsetMinutes: this.#zoneOffsetMinutes,
      // A scene that is only looked at shows the beginning.
      sceneSinceMs: this.#since.get(sceneId) ?? nowMs,
      sceneFirstMs: this.#first.get(sceneId) ?? nowMs,
      musicEndsMs: this.#musicEnd.get(sceneId) ?? null,
      broadcastSinceMs: this.#broadcastSinceMs,
      book: this.#book,
      goals: this.#goals,
      settings: this.#settings,
      fields: this.#fields,
      viewers: this.#viewers,
      messages: this.#shown,
      messagesVersion: this.#shownVersion,
      eventStamp: this.#eventStamp,
      readOut: this.#readOut,
      title: this.#title,
      ownPoll: this.#poll,
      speaking: this.voices.speaking,
    };
  }

  /** Fields that events keep up; the same object as long as nothing has changed, and for a tenth of a second. */
  liveFields(seconds: number): Record<string, string> {
    const same = this.#live.settings === this.#settings && this.#live.goals === this.#goals;
    if (same && Math.abs(seconds - this.#liveAt) < EVENTS_SECONDS) return this.#live.fields;
    const viewers = viewerSum(this.#viewers, this.wallMs(seconds));
    const key = `${this.#book.stamp}/${viewers}`;
    if (!same || key !== this.#live.key) {
      this.#liveAt = seconds;
      this.#live = {
        key,
        settings: this.#settings,
        goals: this.#goals,
        fields: audienceFields(this.#book, this.#goals, this.#settings, viewers),
      };
    }
    return this.#live.fields;
  }

  /** The alert on the picture, with its words; tells when one has begun. */
  alertAt(seconds: number): { alert: RunningAlert; words: string } | null {
    const alert = this.alerts.at(seconds);
    if (!alert) return null;
    // Asked for several times with each picture, and the same until it counts one more.
    const what = `${alert.number}|${alert.events}|${alert.people}|${alert.total}`;
    if (this.#worded.what !== what || this.#worded.settings !== this.#settings)
      this.#worded = { what, settings: this.#settings, words: this.#wordsOf(alert) };
    const { words } = this.#worded;
    if (alert.number !== this.#told) {
      this.#told = alert.number;
      if (alert.startedAt === alert.at) this.#lagMs = this.clock.dateMs() - alert.event.atMs;
      this.pictures.begin(alert.rule, seconds);
      this.onAlert(alert, words, this.alerts.muted);
    }
    return { alert, words };
  }

  /** A rule's alert as it would be, again and again from its beginning to its end; null when the rule is gone. */
  preview(ruleId: string, seconds: number): AlertPreview | null {
    const rule = this.#rules.find((r) => r.id === ruleId);
    if (!rule) return null;
    const layer = recordsOf(this.#document, 'layer').find((l) => l.content.type === 'alert');
    const place = layer?.placements.wide ?? layer?.placements.tall;
    const event: ViewerEvent = {
      ...PLAIN_EVENT,
      id: 'preview',
      platform: 'test',
      viewer: 'mossbell',
      type: rule.event,
      atMs: 0,
      ...exampleEvent(rule, this.#settings.currency),
    };
    const every = rule.seconds + PREVIEW_PAUSE;
    const startedAt = Math.floor(seconds / every) * every;
    const alert: RunningAlert = {
      ...{ event, rule, startedAt, viewers: [event.viewer], people: 1, events: 1 },
      ...{ number: 0, replayed: false, at: startedAt, lastAt: startedAt, countedAt: startedAt },
      total: amountOf(event, this.#settings),
      endsAt: startedAt + rule.seconds,
    };
    return {
      alert,
      words: this.#wordsOf(alert),
      picture: this.pictures.of(rule.id),
      style: layer?.content.type === 'alert' ? layer.content.style : DEFAULT_TEXT_STYLE,
      box: place ?? { width: 820, height: 160 },
      cornerPx: place?.cornerPx ?? 0,
    };
  }

  report(seconds: number): AlertQueueReport {
    const { waiting, paused, quiet, muted, counts } = this.alerts;
    const running = this.alertAt(seconds)?.words ?? null;
    return { running, waiting, paused, quiet, muted, ...counts, lagMs: this.#lagMs };
  }

  #wordsOf(alert: RunningAlert): string {
    return alertText(alert.rule.text, alert, this.#settings)
      .split('\n')
      .map((line) => line.trim())
      .filter((line) => line !== '')
      .join('\n');
  }

  #alert(event: ViewerEvent, seconds: number): void {
    const rule = ruleFor(event, this.#rules, this.#settings);
    if (rule) this.alerts.add(event, rule, this.#settings, seconds);
  }

  #shownOf(message: ChatMessage, sinceMs: number): ShownMessage | null {
    if (!isWelcome(message, this.#settings)) return null;
    const shown = shownMessage(message, this.#settings);
    return { ...shown, sinceMs: sinceMs + this.#settings.holdSeconds * 1000 };
  }

  #show(): void {
    this.#shownVersion += 1;
    this.#chatted = 0;
    this.#shown = this.#chat.flatMap(({ shown }) => shown ?? []);
    this.emotes.want(this.#shown);
  }
}
