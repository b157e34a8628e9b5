import ComputerRounded from '@mui/icons-material/ComputerRounded';
import HomeRounded from '@mui/icons-material/HomeRounded';
import KeyboardRounded from '@mui/icons-material/KeyboardRounded';
import SearchRounded from '@mui/icons-material/SearchRounded';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { curveMonotoneX, line } from 'd3-shape';
import { lazy, memo, Suspense, useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { NavLink } from 'react-router';
import { withMinus } from '~/core/format/numbers';
import { planInUse } from '~/core/delivery/live-plan';
import type { ProgrammeState } from '~/core/programme/programme-state';
import { rundownInUse, segmentOn, segmentsOf } from '~/core/rundown/rundown';
import type { ShowDocument } from '~/core/show/document';
import type { Purpose } from '~/protocol/bus';
import { useTranslation } from '../words/words';
import { WindowsMenu } from '../windows/windows-menu';
import { Notices } from './notices';
import { ThemeSwitch } from './theme-switch';
import { useBroadcastControl } from './broadcast-control';
import { useProgramme } from '../sound/use-readings';
import { useWantedFps } from './use-wanted-fps';
import { useBus, useDesk, useRecords, useStore, useStudio } from './studio-context';

const Palette = lazy(() => import('../palette/palette').then((m) => ({ default: m.Palette })));

const KeysDialog = lazy(() => import('../commands/keys-dialog').then((m) => ({ default: m.KeysDialog })));

const STOPS = ['plan', 'stage', 'sound', 'audience', 'delivery', 'air', 'vault'] as const;
type Stop = (typeof STOPS)[number];
const NAMES: Record<Stop, string> = {
  plan: 'Plan',
  stage: 'Stage',
  sound: 'Sound',
  audience: 'Audience',
  delivery: 'Delivery',
  air: 'On air',
  vault: 'Vault',
};
/** The ridge: where each stop stands, in percent of the width and pixels of the height. On air is the summit. */
const PLACE: Record<Stop, readonly [number, number]> = {
  plan: [3, 36],
  stage: [17, 31],
  sound: [31, 24],
  audience: [46, 28],
  delivery: [61, 20],
  air: [77, 11],
  vault: [91, 32],
};
const HEIGHT = 76;

interface Reading {
  text: string;
  trouble: boolean;
}

/** What each stop says about itself: one reading, or its trouble. */
function useReadings(): Record<Stop, Reading> {
  const stage = useDesk((now) => now.stage);
  const inputs = useDesk((now) => now.inputs);
  const sound = useDesk((now) => now.sound);
  const uplink = useDesk((now) => now.uplink);
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  const faults = useDesk((now) => now.faults);
  const live = useDesk((now) => now.live);
  const platforms = useBus((now) => now.platforms);
  // The list changes with every message; it is counted only where nobody counts viewers.
  const events = useBus((now) => (now.platforms.length === 0 ? now.events.length : 0));
  const relay = useBus((now) => now.relay);
  const broadcast = useBus((now) => now.broadcast);
  const layers = useRecords('layer');
  const enabled = useRecords('destination').filter((d) => d.enabled).length;
  const scene = useRecords('scene').find((s) => s.id === onAirSceneId)?.name ?? '';
  const heard = useProgramme(({ momentaryLufs }) =>
    Number.isFinite(momentaryLufs) ? `${withMinus(momentaryLufs.toFixed(1))} LUFS` : 'silent',
  );
  const fine = (text: string): Reading => ({ text, trouble: false });
  const trouble = (text: string): Reading => ({ text, trouble: true });
  const wantedFps = useWantedFps();
  // An input that no layer shows any more is nobody's trouble.
  const shown = new Set(layers.flatMap((l) => (l.content.type === 'input' ? [l.content.inputId] : [])));
  const failed = inputs.filter((i) => i.state === 'failed' && shown.has(i.inputId)).length;
  const slow =
    stage !== null && wantedFps !== null && stage.programmeSeconds > 4 && stage.fps < wantedFps * 0.9;
  const session = relay?.session ?? null;
  const bad =
    session?.destinations.filter((d) => ['stalled', 'refused', 'unreachable'].includes(d.state)) ?? [];
  const dropped = session?.destinations.reduce((sum, d) => sum + d.framesDropped, 0) ?? 0;
  const watching = platforms.reduce((sum, p) => sum + (p.viewers ?? 0), 0);
  const lost = platforms.find((p) => !p.connected);
  const programme = useDesk((now) => now.programme);
  const rundown = useStore((now) => rundownReading(now.document(), programme));
  return {
    plan: fine(rundown),
    stage:
      faults.length > 0 && stage === null
        ? trouble('stopped')
        : failed > 0
          ? trouble(`${failed} missing`)
          : slow
            ? trouble(`${stage.fps} of ${wantedFps} fps`)
            : fine(stage ? `${stage.fps} fps` : 'starting'),
    sound:
      sound.state === 'failed'
        ? trouble('no sound')
        : sound.state !== 'running'
          ? trouble('click to start')
          : sound.problems.size > 0
            ? trouble('mic missing')
            : fine(heard),
    audience: lost
      ? trouble('chat lost')
      : fine(platforms.length === 0 ? `${events} events` : `${watching} watching`),
    delivery:
      broadcast.state === 'relayGone'
        ? trouble('relay gone')
        : bad.length > 0
          ? trouble(`${bad[0].name} ${bad[0].state}`)
          : live && uplink && uplink.state !== 'live'
            ? trouble('connection lost')
            : fine(
                !live ? `${enabled} ready` : dropped > 0 ? `${dropped} dropped` : `${uplink?.kbps ?? 0} kbps`,
              ),
    air: session?.state === 'covered' ? trouble('cover') : fine(scene),
    vault: session?.recording?.message
      ? trouble('not recording')
      : session?.recording?.room
        ? trouble('disk nearly full')
        : fine(
            session?.recording && session.state !== 'finishing'
              ? `rec ${(session.recording.bytes / 1e6).toFixed(1)} MB`
              : 'idle',
          ),
  };
}

/** The segment that is on, or how many there are. */
function rundownReading(document: ShowDocument, programme: ProgrammeState): string {
  const on = segmentOn(document, programme);
  if (on) return on.name;
  const rundown = rundownInUse(document, programme);
  const count = rundown ? segmentsOf(document, rundown.id).length : 0;
  return rundown ? `${count} ${count === 1 ? 'segment' : 'segments'}` : 'no rundown';
}

export function SignalPath() {
  const { showId } = useStudio();
  const broadcast = useBus((now) => now.broadcast);
  const live = useDesk((now) => now.live);
  const { t } = useTranslation();
  const [finding, setFinding] = useState(false);
  const [keys, setKeys] = useState(false);
  // By the sign and not by the key: it stands elsewhere on other keyboards.
  useHotkeys('*', ({ key }) => key === '?' && setKeys(true));
  useHotkeys('mod+k', () => setFinding(true), { preventDefault: true, enableOnFormTags: true });
  const [show] = useRecords('show');
  const planName = useStore((now) => planInUse(now.document())?.name);
  const on = broadcast.state === 'relayGone' || (broadcast.state === 'on' && broadcast.purpose === 'live');
  const ridge = line<readonly [number, number]>().curve(curveMonotoneX);
  const stops = STOPS.map((stop) => PLACE[stop]);
  const whole = ridge([[0, 44], ...stops, [100, 46]])!;
  // Live, the ridge glows from Stage to the summit.
  const glowing = ridge(stops.slice(0, STOPS.indexOf('air') + 1))!;
  return (
    <header
      style={{
        display: 'grid',
        gridTemplateColumns: '212px minmax(0, 1fr) 274px',
        borderBottom: '1px solid var(--line)',
        background: 'linear-gradient(var(--ground), var(--surface))',
      }}
    >
      <div style={{ padding: '13px 0 0 20px', minWidth: 0 }}>
        <h1
          style={{
            font: '700 17px "Bricolage Grotesque Variable"',
            margin: 0,
            whiteSpace: 'nowrap',
            overflow: 'hidden',
            textOverflow: 'ellipsis',
          }}
        >
          {show?.name}
        </h1>
        <div style={{ color: 'var(--quiet)', fontSize: 12, marginTop: 3, whiteSpace: 'nowrap' }}>
          <Tooltip title={live ? t('shell.homeInAWindowOf') : t('shell.homeAllShows')}>
            <a
              href="/"
              target={live ? '_blank' : undefined}
              rel="noopener"
              style={{ color: 'inherit', textDecoration: 'none' }}
            >
              <HomeRounded
                aria-label={t('shell.home')}
                sx={{ fontSize: 16, mr: 0.75, verticalAlign: '-2px' }}
              />
            </a>
          </Tooltip>
          <Tooltip title={t('palette.tooltip')}>
            <button
              type="button"
              aria-label={t('palette.title')}
              aria-keyshortcuts="Control+K"
              className="find-button"
              onClick={() => setFinding(true)}
            >
              <SearchRounded sx={{ fontSize: 16, verticalAlign: '-2px' }} />
            </button>
          </Tooltip>
          <Tooltip title={t('keys.open')}>
            <button
              type="button"
              aria-label={t('keys.open')}
              aria-keyshortcuts="?"
              className="find-button"
              onClick={() => setKeys(true)}
            >
              <KeyboardRounded sx={{ fontSize: 16, verticalAlign: '-2px' }} />
            </button>
          </Tooltip>
          {keys && (
            <Suspense fallback={null}>
              <KeysDialog onClose={() => setKeys(false)} />
            </Suspense>
          )}
          {finding && (
            <Suspense fallback={null}>
              <Palette onClose={() => setFinding(false)} />
            </Suspense>
          )}
          {planName} · <SaveState />
        </div>
      </div>
      <nav aria-label={t('shell.places')} style={{ position: 'relative' }}>
        <svg
          aria-hidden
          viewBox={`0 0 100 ${HEIGHT}`}
          preserveAspectRatio="none"
          style={{ position: 'absolute', inset: 0, width: '100%', height: HEIGHT }}
        >
          <path d={`${whole}L100,${HEIGHT}L0,${HEIGHT}Z`} fill="var(--glacier)" opacity={0.06} />
          <path
            d={whole}
            fill="none"
            stroke="var(--line)"
            strokeWidth={2}
            vectorEffect="non-scaling-stroke"
          />
          {on && (
            <path
              d={glowing}
              fill="none"
              stroke="var(--ember)"
              strokeWidth={2.5}
              vectorEffect="non-scaling-stroke"
            />
          )}
        </svg>
        <Stops showId={showId} />
      </nav>
      <div
        style={{
          position: 'relative',
          display: 'flex',
          alignItems: 'center',
          justifyContent: 'flex-end',
          gap: 6,
          paddingRight: 16,
        }}
      >
        <Notices />
        <WindowsMenu />
        <ThemeSwitch />
        <Tooltip title={t('shell.thisComputerWhoMayDo')}>
          <IconButton
            component="a"
            href="/computer"
            target="_blank"
            rel="noopener"
            aria-label={t('shell.thisComputerInAWindow')}
          >
            <ComputerRounded fontSize="small" />
          </IconButton>
        </Tooltip>
        <LiveButton />
      </div>
    </header>
  );
}

function SaveState() {
  const { t } = useTranslation();
  const saveState = useStore((now) => now.saveState);
  return (
    <span aria-live="polite">
      {saveState === 'saved'
        ? t('shell.saved')
        : saveState === 'saving'
          ? t('shell.saving')
          : t('shell.notSavedYet')}
    </span>
  );
}

/** What changes by the second: the rest of the path need not be drawn for it. */
function Stops({ showId }: { showId: string }) {
  const readings = useReadings();
  return STOPS.map((stop) => <PathStop key={stop} stop={stop} showId={showId} {...readings[stop]} />);
}

/** Drawn anew only when it says another thing: links look up where they lead each time. */
const PathStop = memo(function PathStop({
  stop,
  showId,
  text,
  trouble,
}: {
  stop: Stop;
  showId: string;
} & Reading) {
  const [left, top] = PLACE[stop];
  return (
    <NavLink
      to={`/show/${showId}/${stop}`}
      style={{
        position: 'absolute',
        width: 'max-content',
        left: `${left}%`,
        top: top - 9,
        display: 'block',
        textDecoration: 'none',
        color: 'inherit',
        borderRadius: 6,
        padding: '0 4px 2px 0',
        marginLeft: -9,
      }}
    >
      {({ isActive }) => (
        <span style={{ display: 'grid', gridTemplateColumns: '18px auto', columnGap: 5 }}>
          <svg width={18} height={18} aria-hidden>
            {trouble ? (
              <path d="M9 1.5 16.5 9 9 16.5 1.5 9Z" fill="var(--rose)" />
            ) : (
              <circle
                cx={9}
                cy={9}
                r={isActive ? 8 : 5}
                fill={isActive ? 'var(--glacier)' : 'var(--ground)'}
                stroke={isActive ? 'var(--glacier)' : 'var(--quiet)'}
                strokeWidth={2.5}
              />
            )}
          </svg>
          <span
            style={{
              gridColumn: 2,
              gridRow: 2,
              marginTop: -4,
              fontWeight: isActive ? 700 : 500,
              fontSize: 14,
              lineHeight: '17px',
              color: isActive ? 'var(--text)' : 'var(--quiet)',
            }}
          >
            {NAMES[stop]}
          </span>
          <span
            className="figure"
            style={{
              gridColumn: 2,
              gridRow: 3,
              fontSize: 11,
              lineHeight: '14px',
              color: trouble ? 'var(--rose)' : 'var(--quiet)',
              whiteSpace: 'nowrap',
              maxWidth: 132,
              overflow: 'hidden',
              textOverflow: 'ellipsis',
            }}
          >
            {text}
          </span>
        </span>
      )}
    </NavLink>
  );
});

function clock(milliseconds: number): string {
  const total = Math.max(0, Math.floor(milliseconds / 1000));
  const two = (n: number) => String(n).padStart(2, '0');
  return `${two(Math.floor(total / 3600))}:${two(Math.floor(total / 60) % 60)}:${two(total % 60)}`;
}

/** Before the time, in a button that has room for few letters; nothing for a broadcast. */
const SHORT: Record<Purpose, string> = { live: '', record: 'Rec ', rehearse: 'Try ', lookBack: 'Kept ' };
const WHAT_ENDS: Record<Purpose, string> = {
  live: 'the broadcast',
  record: 'recording',
  rehearse: 'the rehearsal',
  lookBack: 'looking back',
};

function LiveButton() {
  const { t } = useTranslation();
  const broadcast = useBus((now) => now.broadcast);
  const { busy, start, askStop, dialog } = useBroadcastControl();
  const on = broadcast.state !== 'off';
  const elsewhere = broadcast.state === 'off' ? broadcast.elsewhere : null;
  const [now, setNow] = useState(Date.now());
  useEffect(() => {
    if (!on) return;
    setNow(Date.now());
    const timer = setInterval(() => setNow(Date.now()), 250);
    return () => clearInterval(timer);
  }, [on]);
  // Ember is for what viewers see.
  const purpose = broadcast.state === 'on' ? broadcast.purpose : 'live';
  const unseen = purpose !== 'live';
  const text = busy
    ? on
      ? 'Stopping…'
      : 'Starting…'
    : on
      ? broadcast.state === 'on'
        ? `${SHORT[purpose]}${clock(now - broadcast.startedAtMs)}`
        : broadcast.state === 'ending'
          ? `Last ${clock(broadcast.endsAtMs - now)}`
          : 'Relay gone'
      : 'Go live';
  return (
    <>
      <Button
        onClick={on ? askStop : start}
        disabled={busy || elsewhere !== null}
        title={elsewhere === null ? undefined : t('shell.elsewhereIsOnAirOne', { elsewhere })}
        aria-label={
          unseen
            ? `${text}. Stop ${WHAT_ENDS[purpose]}`
            : broadcast.state === 'ending'
              ? t('shell.textGoOutToDelayed', { text })
              : on
                ? t('shell.onAirForTextStop', { text })
                : undefined
        }
        className={on ? 'figure' : undefined}
        sx={{
          width: 148,
          height: 42,
          borderRadius: 21,
          border: '1px solid var(--ember)',
          fontFamily: on ? '"JetBrains Mono Variable"' : undefined,
          fontSize: 15,
          bgcolor: unseen
            ? 'var(--raised)'
            : on
              ? 'var(--ember)'
              : 'color-mix(in srgb, var(--ember) 12%, transparent)',
          color: on && !unseen ? 'var(--onAccent)' : 'var(--text)',
          '&:hover': {
            bgcolor: unseen
              ? 'var(--raised)'
              : on
                ? 'var(--ember)'
                : 'color-mix(in srgb, var(--ember) 26%, transparent)',
          },
        }}
      >
        {text}
      </Button>
      {dialog}
    </>
  );
}
