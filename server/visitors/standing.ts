import type { BroadcastState } from '../../protocol/bus';
import type { Standing } from '../../protocol/door';
import type { DeskHealth, RelayStatus } from '../../protocol/relay-orders';

const AIR = { live: 'live', rehearse: 'rehearsal', record: 'recording', lookBack: 'off' } as const;

/** How a show stands, in what people outside may know of it. */
export function standingOf({
  show,
  scene,
  broadcast,
  status,
  health,
  nowMs,
}: {
  show: string | null;
  scene: string | null;
  broadcast: BroadcastState;
  status: RelayStatus | null;
  health: DeskHealth | null;
  nowMs: number;
}): Omit<Standing, 'role' | 'name'> {
  const onAir =
    broadcast.state === 'on' ? AIR[broadcast.purpose] : broadcast.state === 'ending' ? 'ending' : 'off';
  const sends = onAir === 'live' || onAir === 'rehearsal' || onAir === 'ending';
  return {
    show,
    onAir,
    scene,
    startedAtMs: broadcast.state === 'on' && onAir !== 'off' ? broadcast.startedAtMs : null,
    nowMs,
    destinations: sends
      ? (status?.session?.destinations ?? []).map(({ name, state }) => ({
          name,
          state:
            state === 'live'
              ? 'good'
              : state === 'connecting' || state === 'waiting'
                ? 'connecting'
                : 'trouble',
        }))
      : [],
    desk: health !== null,
  };
}
