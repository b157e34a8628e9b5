import Snackbar from '@mui/material/Snackbar';
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { Outlet, useMatch } from 'react-router';
import { encodeValues } from '~/core/delivery/plan-steps';
import { NO_PROGRAMME, type ProgrammeState } from '~/core/programme/programme-state';
import { findRecord, recordsOf, type ShowDocument } from '~/core/show/document';
import { poseIn } from '~/core/show/poses';
import type { AnyRecord } from '~/core/show/records';
import { missingInBrowser } from '~/engine/capabilities';
import { SystemCamera } from '~/engine/camera/system-camera.client';
import { Desk } from '~/engine/desk.client';
import type { StudioData } from '../server/studio-data.server';
import { doPress } from '../commands/do-press';
import { ShowControl } from '../commands/show-control';
import { Controllers } from '../controllers/controllers';
import { en } from '../words/en';
import { MadeUpGuests } from '../guests/made-up-guests';
import { GuestBridge } from '../guests/guest-bridge';
import { PadFeed } from './pad-feed';
import { PICTURE_FONTS } from './picture-fonts.client';
import { OwnWindows } from '../windows/own-windows';
import { broadcastOrders } from '../delivery/broadcast-orders';
import { BusClient } from './bus-client';
import { DocumentStore, type DocumentPorts } from './document-store';
import { HealthHistory } from './health-history';
import { keepAlerts, keptAlerts } from './kept-alerts';
import { DeskElsewhere, MissingFeatures, ShowGone } from './instead-of-studio';
import { ShortcutKeys } from '../commands/shortcut-keys';
import { ShowPicture } from './show-picture';
import { SignalPath } from './signal-path';
import { StudioContext, type StudioParts } from './studio-context';
import { uplinkFrom } from './uplink-from';
import { useTranslation } from '../words/words';

/** One name for this window, kept over reloads, so that a reload finds its own lease again. */
function deskId(): string {
  let id = sessionStorage.getItem('desk');
  if (!id) {
    id = crypto.randomUUID();
    sessionStorage.setItem('desk', id);
  }
  return id;
}

/** A browser lets a page send so much after it was closed, and refuses more at any time (Fetch, "keepalive"). */
const KEEPALIVE_BYTES = 60_000;

/**
 * After what the page does at once: to say something to the server takes longer than an edit itself. A page that is closed
 * says it before it goes.
 */
function afterThis(): Promise<void> {
  return new Promise((resolve) => {
    // A message and no timer: those of a page that a game covers come once a second.
    const { port1, port2 } = new MessageChannel();
    const go = () => {
      port1.close();
      removeEventListener('pagehide', go);
      resolve();
    };
    port1.onmessage = go;
    port2.postMessage(null);
    addEventListener('pagehide', go);
  });
}

function portsFor(showId: string): DocumentPorts {
  return {
    save: async (edit, seen) => {
      await afterThis();
      const body = JSON.stringify({ ...edit, seen });
      const response = await fetch(`/show/${showId}/edits`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body,
        keepalive: new Blob([body]).size < KEEPALIVE_BYTES,
      });
      if (response.status >= 500) throw new Error('the server stumbled');
      const answer = (await response.json()) as { revision: number; gone: string[]; message?: string };
      return response.ok ? answer : { refused: answer.message ?? `status ${response.status}` };
    },
    // In place, not by reloading the page: a broadcast must not stop for it.
    reload: async () => {
      const response = await fetch(`/show/${showId}/edits`);
      if (!response.ok) throw new Error(`status ${response.status}`);
      return (await response.json()) as { revision: number; records: AnyRecord[] };
    },
    newId: () => crypto.randomUUID(),
    now: Date.now,
    wait: (milliseconds) => new Promise((resolve) => setTimeout(resolve, milliseconds)),
  };
}

export function StudioShell({ data }: { data: StudioData }) {
  const missing = useMemo(missingInBrowser, []);
  if (missing.length > 0) return <MissingFeatures missing={missing} />;
  return <LeasedStudio data={data} />;
}

function LeasedStudio({ data }: { data: StudioData }) {
  const deskRef = useRef<Desk | null>(null);
  const [bus, setBus] = useState<BusClient | null>(null);
  const [gone, setGone] = useState(false);
  const { showId } = data.records[0];
  // Also while another window has the desk: it goes on with the show as it is by then.
  const [store] = useState(() => new DocumentStore(data.records, data.revision, portsFor(showId)));
  useEffect(() => {
    const client = new BusClient(
      deskId(),
      data.broadcast,
      showId,
      (message) => deskRef.current?.audience(message),
      (message) => {
        if (message.type === 'edit') store.told(message.change);
        else if (message.type === 'revision') store.heardOf(message.revision);
        else setGone(true);
      },
    );
    setBus(client);
    return () => client.close();
    // The first data only: the bus brings what is newer.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  if (gone) return <ShowGone />;
  if (!bus) return null;
  return <WithBus bus={bus} data={data} store={store} deskRef={deskRef} />;
}

interface RunningParts {
  bus: BusClient;
  data: StudioData;
  store: DocumentStore;
  deskRef: { current: Desk | null };
}

function WithBus({ bus, data, store, deskRef }: RunningParts) {
  const lease = useSyncExternalStore(bus.subscribe, () => bus.snapshot().lease);
  // Once held it is kept through a lost connection; only another desk ends it.
  const [held, setHeld] = useState(false);
  useEffect(() => {
    if (lease === 'held') setHeld(true);
    else if (lease === 'elsewhere') setHeld(false);
  }, [lease]);
  if (lease === 'elsewhere' || (lease === 'free' && !held))
    return <DeskElsewhere closed={lease === 'free'} onTakeOver={() => bus.takeOver()} />;
  if (!held) return null;
  return <RunningStudio bus={bus} data={data} store={store} deskRef={deskRef} />;
}

function RunningStudio({ bus, data, store, deskRef }: RunningParts) {
  const { t } = useTranslation();
  const showId = data.records[0].showId;
  // The first minutes have a way of their own.
  const starting = useMatch('/show/:showId/start') !== null;
  const inAir = useMatch('/show/:showId/air') !== null;
  const [running, setRunning] = useState<Pick<
    StudioParts,
    'desk' | 'control' | 'controllers' | 'windows' | 'camera' | 'madeUp'
  > | null>(null);
  const desk = running?.desk ?? null;
  const [message, setMessage] = useState<string | null>(null);
  const [history] = useState(() => new HealthHistory());

  useEffect(() => {
    const running = new Desk(PICTURE_FONTS);
    deskRef.current = running;
    running.setDocument(store.document());
    running.revision = () => store.revision;
    const shown = new ShowControl({
      desk: running,
      store,
      bus,
      broadcast: broadcastOrders({ showId, store, bus, say: setMessage }),
      say: setMessage,
      doPress,
    });
    // The page may have been open for long before it got the desk.
    const { programme, broadcast } = bus.snapshot();
    running.programme.restore(
      programmeToBegin(programme ?? data.programme, broadcast.state === 'off', store.document()),
    );
    const { onAir } = running.programme.state;
    if (onAir) running.edit({ sceneId: onAir.sceneId, poseId: onAir.poseId });
    bus.onPress = (press, by, held) => shown.press(press, by, held);
    const kept = keptAlerts(showId);
    if (kept) running.audience({ type: 'keptAlerts', kept });
    running.onAlertsKept = (now) => keepAlerts(showId, now);
    for (const message of bus.toldSoFar()) running.audience(message);
    const unsubscribe = store.subscribe(() => running.setDocument(store.document()));
    const health = setInterval(() => {
      bus.say({ type: 'health', health: running.health() });
      const { relay, broadcast } = bus.snapshot();
      const { stage, uplink } = running.snapshot();
      if (broadcast.state === 'off') history.clear();
      else {
        const planned = broadcast.state === 'on' ? broadcast.encoding.fps : (stage?.pace ?? 0);
        history.add(Date.now(), stage, uplink, relay?.session ?? null, planned);
      }
    }, 1000);
    running.onMusicEnded = (channelId) => {
      const channel = findRecord(store.document(), 'channel', channelId);
      if (channel?.source.type === 'music' && channel.source.playing)
        store.edit(t('shell.nameHasEnded', { name: channel.name }), [
          { ...channel, source: { ...channel.source, playing: false } },
        ]);
      shown.musicEnded();
    };
    const padFeed = new PadFeed(running, store, bus);
    const guests = new GuestBridge({ desk: running, store, bus, say: setMessage });
    const windows = new OwnWindows(() => setMessage(en.windows.blocked));
    const camera = new SystemCamera((frame) => running.tap(frame, 0, true));
    const controllers = new Controllers(shown, setMessage);
    const madeUp = new MadeUpGuests(showId);
    setRunning({ desk: running, control: shown, controllers, windows, camera, madeUp });
    return () => {
      clearInterval(health);
      padFeed.close();
      madeUp.close();
      guests.close();
      shown.close();
      windows.closeAll();
      camera.stop();
      controllers.close();
      unsubscribe();
      deskRef.current = null;
      running.close();
    };
    // One engine for the life of this desk: what changes later reaches it through the store and the bus.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  const say = useCallback((text: string) => setMessage(text), []);
  useLive(desk, bus, say);

  const parts = useMemo<StudioParts | null>(
    () => running && { showId, data, store, ...running, bus, say, history },
    [running, showId, data, store, bus, say, history],
  );
  if (!parts) return null;
  return (
    <StudioContext value={parts}>
      {starting ? (
        <Outlet />
      ) : (
        <div
          style={{
            display: 'grid',
            gridTemplateRows: '76px minmax(0, 1fr)',
            height: '100vh',
            minWidth: 1000,
          }}
        >
          <SignalPath />
          <main style={{ minHeight: 0, padding: 12 }}>
            <Outlet />
          </main>
        </div>
      )}
      <ShowPicture />
      {!starting && <ShortcutKeys />}
      <Snackbar
        open={message !== null}
        autoHideDuration={7000}
        onClose={() => setMessage(null)}
        message={message}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}
        className={inAir ? 'studio-said in-air' : 'studio-said'}
      />
    </StudioContext>
  );
}

/**
 * How the programme goes on: as it stood while a broadcast is on; off air with the scene that was on, and all else as the
 * show starts.
 */
function programmeToBegin(programme: ProgrammeState, off: boolean, document: ShowDocument): ProgrammeState {
  const scene =
    findRecord(document, 'scene', programme.onAir?.sceneId ?? null) ?? recordsOf(document, 'scene')[0];
  if (!scene) return { ...NO_PROGRAMME, seq: programme.seq };
  const kept = scene.id === programme.onAir?.sceneId ? programme.onAir : null;
  const onAir = {
    sceneId: scene.id,
    poseId: poseIn(document, scene.id, kept?.poseId ?? null)?.id ?? null,
    sinceMs: off || !kept ? Date.now() : kept.sinceMs,
  };
  const { seq, seatsOn } = programme;
  return off ? { ...NO_PROGRAMME, seq, seatsOn, onAir } : { ...programme, onAir };
}

/** Starts and stops the engine's sending as the broadcast goes on and off, also after a reload. */
function useLive(desk: Desk | null, bus: BusClient, say: (text: string) => void): void {
  const broadcast = useSyncExternalStore(bus.subscribe, () => bus.snapshot().broadcast);
  const sessionId = broadcast.state === 'on' ? broadcast.sessionId : null;
  useEffect(() => {
    if (!desk) return;
    desk.audience({ type: 'broadcast', sinceMs: broadcast.state === 'on' ? broadcast.startedAtMs : null });
    if (broadcast.state === 'on') {
      desk
        .goLive({ ...broadcast, uplinkUrl: uplinkFrom(broadcast.uplinkUrl, location) })
        .catch((error: unknown) => {
          say(error instanceof Error ? error.message : String(error));
        });
    } else if (broadcast.state !== 'relayGone') desk.endLive();
    // 'relayGone': the uplink keeps trying by itself.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [desk, sessionId, broadcast.state]);
  const encodes = broadcast.state === 'on' ? broadcast.encodes : null;
  const encoding = broadcast.state === 'on' ? broadcast.encoding : null;
  const values = encodes && encoding && JSON.stringify(encodes.map((e) => [e.id, encodeValues(encoding, e)]));
  useEffect(() => {
    if (!desk || !encodes || !encoding) return;
    desk.follow({ encodes, encoding }).catch((error: unknown) => {
      say(error instanceof Error ? error.message : String(error));
    });
    // Told anew every second, but only another encode, or one that is made otherwise, is news.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [desk, values]);
}
