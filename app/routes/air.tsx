import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { recordsOf } from '~/core/show/document';
import { poseIn, posesOf } from '~/core/show/poses';
import { balanceVerdict } from '~/core/sound/voice-balance';
import { QueueBar } from '../audience/alerts-panel';
import { EntryList } from '../audience/entry-list';
import { askAhead } from '../audience/entry-pages';
import { useBroadcastActions } from '../delivery/broadcast-actions';
import { ReadOutBar } from '../audience/read-out-bar';
import { MeterTrack } from '../sound/meter-track';
import { EchoNotice } from '../sound/echo-notice';
import { EffectButtons } from '../sound/effects-bank';
import { SoundSwitches } from '../sound/sound-switches';
import { levelText, useProgramme } from '../sound/use-readings';
import { FramePair } from '../studio/frame-pair';
import { Panel } from '../studio/panel';
import { useWantedFps } from '../studio/use-wanted-fps';
import { useBus, useDesk, useDocument, useStudio } from '../studio/studio-context';

export { PlaceError as ErrorBoundary } from '../studio/place-error';

export { askAhead as clientLoader };

export default function OnAir() {
  const document = useDocument();
  const { take, desk, store } = useStudio();
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const covered = useBus((now) => now.relay?.session?.state === 'covered');
  const scenes = recordsOf(document, 'scene');
  const channels = recordsOf(document, 'channel').slice(0, 4);
  const current = scenes.find((s) => s.id === onAirSceneId);
  const [way, setWay] = useState<'own' | 'cut' | 'fade'>('own');
  return (
    <div
      style={{ display: 'grid', gridTemplateColumns: '240px minmax(0, 1fr) 290px', gap: 12, height: '100%' }}
    >
      <Panel label="Scenes to bring on" title="Bring on">
        <div
          role="radiogroup"
          aria-label="Way of coming on"
          style={{ display: 'grid', gridTemplateColumns: '1fr 1fr 1fr', gap: 4, marginBottom: 10 }}
        >
          {(['own', 'cut', 'fade'] as const).map((option) => (
            <button
              key={option}
              type="button"
              role="radio"
              aria-checked={way === option}
              onClick={() => setWay(option)}
              style={{
                height: 32,
                borderRadius: 6,
                border: 0,
                font: 'inherit',
                fontSize: 13,
                cursor: 'pointer',
                color: way === option ? 'var(--glacier)' : 'var(--text)',
                background: 'var(--raised)',
                boxShadow: way === option ? 'inset 0 0 0 1.5px var(--glacier)' : undefined,
              }}
            >
              {option === 'own' ? 'Its own' : option === 'cut' ? 'Cut' : 'Fade'}
            </button>
          ))}
        </div>
        {scenes.map((scene, i) => {
          const on = scene.id === onAirSceneId;
          return (
            <button
              key={scene.id}
              type="button"
              aria-pressed={on}
              onClick={() => take(scene.id, way === 'own' ? undefined : way)}
              style={{
                display: 'flex',
                width: '100%',
                alignItems: 'center',
                justifyContent: 'space-between',
                minHeight: 52,
                marginBottom: 6,
                padding: '0 14px',
                borderRadius: 8,
                border: 0,
                borderLeft: `4px solid ${on ? 'var(--ember)' : 'transparent'}`,
                background: on ? 'color-mix(in srgb, var(--ember) 16%, var(--raised))' : 'var(--raised)',
                color: 'var(--text)',
                font: 'inherit',
                fontSize: 15,
                fontWeight: 600,
                cursor: 'pointer',
                textAlign: 'left',
              }}
            >
              <span style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>{scene.name}</span>
              <span
                className="figure"
                style={{
                  color: on ? 'var(--text)' : 'var(--quiet)',
                  fontSize: 11.5,
                  fontWeight: 400,
                  whiteSpace: 'nowrap',
                }}
              >
                {on ? 'on air' : i < 9 ? `Shift+${i + 1}` : ''}
              </span>
            </button>
          );
        })}
        <h3 className="small-head" style={{ marginTop: 16 }}>
          Effects
        </h3>
        <EffectButtons />
      </Panel>
      <div style={{ display: 'grid', gridTemplateRows: 'minmax(0, 1fr) auto auto', gap: 12, minHeight: 0 }}>
        <Panel
          label="On air"
          title={
            <span style={{ color: 'var(--ember)' }}>
              {covered ? 'Covered: viewers see the card, not this' : 'On air'}
            </span>
          }
          aside={<span style={{ color: 'var(--quiet)', fontSize: 12.5 }}>{current?.name}</span>}
          style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)' }}
        >
          <div
            style={{
              minHeight: 0,
              containerType: 'size',
              display: 'grid',
              placeItems: 'center',
              opacity: covered ? 0.4 : undefined,
            }}
          >
            <FramePair
              subject={{ type: 'onAir' }}
              label={covered ? 'What viewers will see' : 'What viewers see'}
              edge={{ border: `2px solid ${covered ? 'transparent' : 'var(--ember)'}` }}
            />
          </div>
        </Panel>
        <PosesOnAir />
        <Panel
          label="Sound and health"
          style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1.2fr) minmax(0, 1fr)', gap: 24 }}
        >
          <div>
            <div className="sound-bar" style={{ marginBottom: 4 }}>
              <h3 style={{ margin: 0, flex: 1, fontSize: 13, color: 'var(--quiet)' }}>Sound</h3>
              <SoundSwitches />
            </div>
            <EchoNotice />
            {channels.map((channel) => (
              <div
                key={channel.id}
                style={{
                  display: 'grid',
                  gridTemplateColumns: '92px minmax(0, 1fr) 66px',
                  gap: 10,
                  alignItems: 'center',
                }}
              >
                <span
                  style={{ fontSize: 13, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
                  title={channel.name}
                >
                  {channel.name}
                </span>
                <MeterTrack
                  aside
                  name={channel.name}
                  read={() => desk.readMeter(channel.id)}
                  gainDb={channel.gainDb}
                  muted={channel.muted}
                  onGain={(gainDb, done) =>
                    done
                      ? store.edit(`Level of ${channel.name}`, [{ ...channel, gainDb }])
                      : store.preview([{ ...channel, gainDb }])
                  }
                />
                <button
                  type="button"
                  aria-pressed={channel.muted}
                  aria-label={channel.muted ? `Muted: ${channel.name}` : `Mute ${channel.name}`}
                  onClick={() => store.edit(`Mute ${channel.name}`, [{ ...channel, muted: !channel.muted }])}
                  style={{
                    height: 28,
                    borderRadius: 6,
                    border: 0,
                    background: 'var(--raised)',
                    color: channel.muted ? 'var(--rose)' : 'var(--text)',
                    boxShadow: channel.muted ? 'inset 0 0 0 1.5px var(--rose)' : undefined,
                    font: 'inherit',
                    fontSize: 12.5,
                    cursor: 'pointer',
                  }}
                >
                  {channel.muted ? 'Muted' : 'Mute'}
                </button>
              </div>
            ))}
            <ProgrammeLine />
          </div>
          <Health />
        </Panel>
      </div>
      <Panel
        label="Audience"
        title="Chat and events"
        style={{
          display: 'grid',
          gridTemplateRows: 'auto minmax(0, 1fr) auto auto',
          gap: 8,
          overflow: 'hidden',
        }}
      >
        <EntryList dense />
        <ReadOutBar compact />
        <QueueBar compact />
      </Panel>
    </div>
  );
}

/** The poses of the scene on air: one press, or their key, glides to one. */
function PosesOnAir() {
  const document = useDocument();
  const { takePose } = useStudio();
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const onAirPoseId = useDesk((now) => now.onAirPoseId);
  const poses = onAirSceneId ? posesOf(document, onAirSceneId) : [];
  if (poses.length < 2) return <div hidden />;
  const current = poseIn(document, onAirSceneId!, onAirPoseId);
  return (
    <section aria-label="Poses of the scene on air" className="pose-row">
      {poses.map((pose) => {
        const on = pose.id === current?.id;
        return (
          <button
            key={pose.id}
            type="button"
            className="pose-take"
            aria-pressed={on}
            title={`Glide to ${pose.name}`}
            onClick={() => takePose(pose)}
          >
            <FramePair subject={{ type: 'scene', sceneId: pose.sceneId, poseId: pose.id }} label="" gap={3} />
            <span className="pose-name">
              {pose.key && <kbd>{pose.key}</kbd>}
              {pose.name}
            </span>
          </button>
        );
      })}
    </section>
  );
}

function ProgrammeLine() {
  const { desk } = useStudio();
  const momentary = useProgramme(({ momentaryLufs }) => levelText(momentaryLufs, ''));
  return (
    <div
      style={{
        display: 'grid',
        gridTemplateColumns: '92px minmax(0, 1fr) 66px',
        gap: 10,
        alignItems: 'center',
        borderTop: '1px solid var(--line)',
        marginTop: 4,
      }}
    >
      <span style={{ fontSize: 13, fontWeight: 600 }}>Programme</span>
      <MeterTrack aside name="the programme" read={() => desk.readProgramme()} gainDb={0} muted={false} />
      <span className="figure" style={{ fontSize: 11.5, textAlign: 'right' }}>
        {momentary}
      </span>
    </div>
  );
}

interface Line {
  name: string;
  reading: string;
  bad: boolean;
}

/** Where the signal stands, by cause: composing, encoding, line, each destination, recording. */
function Health() {
  const stage = useDesk((now) => now.stage);
  const uplink = useDesk((now) => now.uplink);
  const live = useDesk((now) => now.live);
  const relay = useBus((now) => now.relay);
  const broadcast = useBus((now) => now.broadcast);
  const { desk } = useStudio();
  const [, tick] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => tick((n) => n + 1), 1000);
    return () => clearInterval(timer);
  }, []);
  const wantedFps = useWantedFps();
  const session = relay?.session;
  const { ratioLu, load } = desk.readProgramme();
  const balance = balanceVerdict(ratioLu);
  const lines: Line[] = [
    {
      name: 'Composition',
      reading: stage ? `${stage.fps} fps, ${stage.skipped} skipped` : 'starting',
      bad: stage !== null && wantedFps !== null && stage.fps < wantedFps * 0.9,
    },
    {
      name: 'Sound',
      reading: `${Math.round(load * 100)} % of its time, ${stage?.clockSlips ?? 0} slips`,
      bad: load > 0.6,
    },
    { name: 'Voice', reading: balance.text.replace(/^voice /, ''), bad: !balance.fine },
  ];
  if (live && stage) {
    lines.push({
      name: 'Encoder',
      reading: `${stage.encoderBusy} skipped, ${stage.leftOut} left out`,
      bad: stage.encoderBusy > stage.due * 0.02,
    });
    lines.push({
      name: 'Line',
      reading: uplink
        ? uplink.state === 'live'
          ? `${uplink.kbps} kbps, ${uplink.unackedMs} ms`
          : uplink.message || uplink.state
        : 'starting',
      bad: uplink !== null && uplink.state !== 'live',
    });
    for (const d of session?.destinations ?? [])
      lines.push({
        name: d.name,
        reading: d.state === 'live' ? `${d.kbps} kbps, ${d.framesDropped} dropped` : d.message || d.state,
        bad: !['live', 'connecting'].includes(d.state),
      });
    if (session?.recording)
      lines.push({
        name: 'Recording',
        reading:
          session.recording.message ||
          session.recording.room ||
          `${(session.recording.bytes / 1e6).toFixed(1)} MB`,
        bad: session.recording.message !== '' || session.recording.room !== '',
      });
  }
  return (
    <div>
      <h3 style={{ margin: '0 0 6px', fontSize: 13, color: 'var(--quiet)' }}>Health</h3>
      {lines.map((line) => (
        <div
          key={line.name}
          style={{ display: 'flex', gap: 8, alignItems: 'baseline', padding: '3px 0', fontSize: 13 }}
        >
          <span aria-hidden style={{ color: line.bad ? 'var(--rose)' : 'var(--moss)' }}>
            {line.bad ? '◆' : '●'}
          </span>
          <span>{line.name}</span>
          <span
            className="figure"
            style={{
              flex: 1,
              textAlign: 'right',
              fontSize: 12,
              color: line.bad ? 'var(--rose)' : 'var(--quiet)',
            }}
          >
            {line.reading}
          </span>
        </div>
      ))}
      <AtHand />
      {!live && (
        <p style={{ color: 'var(--quiet)', fontSize: 12.5, margin: '8px 0 0' }}>
          {broadcast.state === 'relayGone'
            ? broadcast.message
            : 'Not on air. Press Go live to send to the destinations that are switched on.'}
        </p>
      )}
    </div>
  );
}

/** What one wants at hand while live: keep what just happened, mark a place, pause the recording. */
function AtHand() {
  const relay = useBus((now) => now.relay);
  const broadcast = useBus((now) => now.broadcast);
  const actions = useBroadcastActions();
  const session = relay?.session ?? null;
  if (broadcast.state === 'off' || broadcast.state === 'ending' || !session) return null;
  const back = session.lookback;
  const paused = session.recording?.paused ?? false;
  const style = { bgcolor: 'var(--raised)', minHeight: 32, px: 0.5, whiteSpace: 'nowrap' } as const;
  return (
    <div
      role="group"
      aria-label="At hand"
      style={{ display: 'grid', gridTemplateColumns: '1.1fr 0.7fr 1.3fr', gap: 6, marginTop: 8 }}
    >
      {back && (
        <Button onClick={() => void actions.keep()} sx={style} title="Key K">
          <span className="figure">Keep {Math.max(1, Math.round(back.seconds))} s</span>
        </Button>
      )}
      <Button onClick={() => void actions.mark('')} sx={style} title="Key M">
        Mark
      </Button>
      <Button
        onClick={() => void actions.cover(!session.coverHeld)}
        aria-pressed={session.coverHeld}
        title="Key Shift+V"
        sx={{
          ...style,
          gridColumn: '1 / -1',
          order: 1,
          minHeight: 38,
          ...(session.coverHeld && {
            bgcolor: 'var(--ember)',
            color: 'var(--onAccent)',
            '&:hover': { bgcolor: 'var(--ember)' },
          }),
        }}
      >
        {session.coverHeld ? 'Take the cover off' : 'Cover: viewers see the card at once'}
      </Button>
      {session.recording && (
        <Button onClick={() => void actions.pause(!paused)} sx={style} aria-pressed={paused}>
          {paused ? 'Go on recording' : 'Pause recording'}
        </Button>
      )}
    </div>
  );
}
