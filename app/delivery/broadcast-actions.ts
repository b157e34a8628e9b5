import { useStudio } from '../studio/studio-context';
import type { BroadcastOrders } from './broadcast-orders';

/** What can be done to a running broadcast beside stopping it; each says how it went. */
export const useBroadcastActions = (): BroadcastOrders => useStudio().control.broadcast;
