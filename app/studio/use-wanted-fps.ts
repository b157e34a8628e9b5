import { planInUse } from '~/core/delivery/live-plan';
import { useBus, useStore } from './studio-context';

/** Pictures a second that are to be made: of the running broadcast, whose plan may have changed since, else of the plan. */
export function useWantedFps(): number | null {
  const sent = useBus(({ broadcast }) => (broadcast.state === 'on' ? broadcast.encoding.fps : null));
  const planned = useStore((now) => planInUse(now.document())?.fps ?? null);
  return sent ?? planned;
}
