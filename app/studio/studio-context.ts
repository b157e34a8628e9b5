import { createContext, useContext, useSyncExternalStore } from 'react';
import { recordsOf, type ShowDocument } from '~/core/show/document';
import type { RecordKind, RecordOf } from '~/core/show/records';
import type { SystemCamera } from '~/engine/camera/system-camera.client';
import type { Desk, DeskSnapshot } from '~/engine/desk.client';
import type { StudioData } from '../server/studio-data.server';
import type { ControlSnapshot, ShowControl } from '../commands/show-control';
import type { MadeUpGuests } from '../guests/made-up-guests';
import type { Controllers } from '../controllers/controllers';
import type { OwnWindows } from '../windows/own-windows';
import type { BusClient, BusSnapshot } from './bus-client';
import type { DocumentStore } from './document-store';
import type { HealthHistory } from './health-history';

/** What every part of the studio can reach. */
export interface StudioParts {
  showId: string;
  data: StudioData;
  store: DocumentStore;
  desk: Desk;
  bus: BusClient;
  controllers: Controllers;
  /** Windows that this page opened. */
  windows: OwnWindows;
  /** A frame as a camera of the system. */
  camera: SystemCamera;
  /** Guests who are made up, to rehearse with. */
  madeUp: MadeUpGuests;
  /** What every press does. */
  control: ShowControl;
  say(message: string): void;
  /** Second by second, while a broadcast is on. */
  history: HealthHistory;
}

export const StudioContext = createContext<StudioParts | null>(null);

export function useStudio(): StudioParts {
  const parts = useContext(StudioContext);
  if (!parts) throw new Error('useStudio() outside the studio');
  return parts;
}

export function useDocument(): ShowDocument {
  return useStore((now) => now.document());
}

/** All records of a kind, in order: whoever asks is drawn anew only when one of these is another. */
export function useRecords<K extends RecordKind>(kind: K): readonly RecordOf<K>[] {
  return useStore((now) => recordsOf(now.document(), kind));
}

/** A part of the show's store (steps, saving, notices), as `useDesk`. */
export function useStore<T>(part: (now: DocumentStore) => T): T {
  const { store } = useStudio();
  return useSyncExternalStore(store.subscribe, () => part(store));
}

/**
 * A part of what the desk says of itself: whoever asks is drawn anew when that part changes, and not with every report.
 *
 * @param part gives something that is the same as long as it has not changed, and nothing that is made anew
 */
export function useDesk<T>(part: (now: DeskSnapshot) => T): T {
  const { desk } = useStudio();
  return useSyncExternalStore(desk.subscribe, () => part(desk.snapshot()));
}

/** A part of what the control of the show says, as `useDesk`. */
export function useControl<T>(part: (now: ControlSnapshot) => T): T {
  const { control } = useStudio();
  return useSyncExternalStore(control.subscribe, () => part(control.snapshot()));
}

/** A part of what the bus has told, as `useDesk`. */
export function useBus<T>(part: (now: BusSnapshot) => T): T {
  const { bus } = useStudio();
  return useSyncExternalStore(bus.subscribe, () => part(bus.snapshot()));
}
