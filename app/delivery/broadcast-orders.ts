import { recordsOf } from '~/core/show/document';
import type { BroadcastState } from '~/protocol/bus';
import type { KeptFile } from '~/protocol/relay-orders';
import type { BusClient } from '../studio/bus-client';
import type { DocumentStore } from '../studio/document-store';

export type BeginIntent = 'start' | 'record' | 'rehearse' | 'lookBack' | 'stop' | 'finish';

/** What went wrong, in words, for whoever pressed it elsewhere; the page has said it. Null when it was done. */
type Outcome = string | null;

export interface BroadcastOrders {
  /** Starts or ends it. */
  begin: (intent: BeginIntent) => Promise<Outcome>;
  /** Saves the last minutes, as many as the show looks back. */
  keep: (seconds?: number, frames?: 'wide' | 'tall' | 'both', title?: string) => Promise<Outcome>;
  mark: (words: string) => Promise<Outcome>;
  cut: (destinationId: string, seconds: number) => Promise<void>;
  pause: (paused: boolean) => Promise<void>;
  /** What the plan says by now is sent, from the next keyframe on. */
  plan: () => Promise<void>;
  /** The cover by hand: viewers do not see the desk while it is on. */
  cover: (on: boolean) => Promise<Outcome>;
}

interface Parts {
  showId: string;
  store: DocumentStore;
  bus: BusClient;
  say: (message: string) => void;
}

/** What can be done to a broadcast; each says how it went. */
export function broadcastOrders({ showId, store, bus, say }: Parts): BroadcastOrders {
  const failed = (problem: string) => {
    say(problem);
    return { problem };
  };
  const send = async <T>(
    fields: Record<string, string>,
  ): Promise<{ answer: T; problem: null } | { answer?: undefined; problem: string }> => {
    try {
      const response = await fetch(`/show/${showId}/broadcast`, {
        method: 'POST',
        body: new URLSearchParams(fields),
      });
      const answer = (await response.json()) as T & { message?: string };
      if (response.ok) return { answer, problem: null };
      return failed(answer.message ?? 'That did not work: try again.');
    } catch {
      return failed('The studio server does not answer: check that it runs, then try again.');
    }
  };
  const on = () => bus.snapshot().broadcast.state !== 'off';
  return {
    begin: async (intent) => {
      const { answer, problem } = await send<{ broadcast?: BroadcastState; problems?: string[] }>({ intent });
      if (!answer?.broadcast) return problem;
      bus.setBroadcast(answer.broadcast);
      // It is on all the same; what did not work on a platform is said.
      if (answer.problems && answer.problems.length > 0) say(answer.problems.join('. '));
      return null;
    },
    keep: async (seconds, frames = 'both', title = '') => {
      if (!on()) return failed('Nothing is on air: there is nothing to look back on.').problem;
      const lookback = recordsOf(store.document(), 'show')[0].delivery.lookback;
      const { answer, problem } = await send<{ files: KeptFile[] }>({
        intent: 'keep',
        seconds: String(seconds ?? lookback.seconds),
        frames,
        title,
      });
      if (!answer) return problem;
      const shown = [...new Set(answer.files.map((f) => f.frame))];
      const parts = answer.files.filter((f) => f.frame === shown[0]);
      const kept = parts.reduce((sum, f) => sum + f.seconds, 0);
      // Another size or the cover came on meanwhile.
      const files = parts.length > 1 ? `, in ${parts.length} files each,` : '';
      say(
        `Kept the last ${Math.round(kept)} s: ${shown.length === 2 ? 'both frames' : 'it'}${files} ${shown.length === 2 ? 'are' : 'is'} in the Vault.`,
      );
      return null;
    },
    mark: async (words) => {
      if (!on()) return failed('Nothing is on air: markers belong to a broadcast.').problem;
      const { problem } = await send({ intent: 'mark', words });
      if (problem === null) say('Marked.');
      return problem;
    },
    cut: async (destinationId, seconds) => {
      const { answer } = await send<{ seconds: number }>({
        intent: 'cut',
        destinationId,
        seconds: String(seconds),
      });
      if (answer)
        say(
          answer.seconds > 0
            ? `${answer.seconds.toFixed(0)} s never go out there: the cover stands in.`
            : 'All of it had gone out already.',
        );
    },
    cover: async (on) => {
      // The button and On air show it; a message would lie over them.
      return (await send({ intent: 'cover', on: String(on) })).problem;
    },
    pause: async (paused) => {
      await send({ intent: 'pause', paused: String(paused) });
    },
    plan: async () => {
      // The server looks at the plan as it has it.
      await store.saved();
      await send({ intent: 'plan' });
    },
  };
}
