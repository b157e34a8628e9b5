import { useCallback, useState } from 'react';
import type { DestinationSettings } from '~/core/delivery/settings';
import { messageOf } from '~/core/fault';
import { recordsOf } from '~/core/show/document';
import type { ConnectorSummary } from '../routes/connectors';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

export interface OfferedConnector extends ConnectorSummary {
  text: string;
}

/** Destinations at services, and the files that describe those. @param onAdded told of each destination that was made */
export function useServices(onAdded: (destinationId: string) => void) {
  const { t } = useTranslation();
  const { store, showId, say } = useStudio();
  const [busy, setBusy] = useState(false);
  /** A file that was chosen and not taken yet. */
  const [offered, setOffered] = useState<OfferedConnector | null>(null);

  const order = useCallback(
    async <T>(form: Record<string, string>): Promise<T | null> => {
      setBusy(true);
      try {
        const response = await fetch(`/show/${showId}/connectors`, {
          method: 'POST',
          body: new URLSearchParams(form),
        });
        const answer = (await response.json()) as T & { message?: string };
        if (response.ok) return answer;
        say(answer.message ?? t('services.failed', { status: response.status }));
      } catch (error) {
        say(error instanceof TypeError ? t('home.notReachable') : messageOf(error));
      } finally {
        setBusy(false);
      }
      return null;
    },
    [showId, say, t],
  );

  /** A destination at a service, with its servers as they are now. */
  const add = async (id: string) => {
    const answer = await order<{ destination: DestinationSettings & { name: string } }>({
      intent: 'destination',
      id,
    });
    if (!answer) return;
    const destinations = recordsOf(store.document(), 'destination');
    const destinationId = crypto.randomUUID();
    const position = (destinations.at(-1)?.position ?? -1) + 1;
    store.edit(t('services.added', { name: answer.destination.name }), [
      { kind: 'destination', id: destinationId, showId, position, ...answer.destination },
    ]);
    onAdded(destinationId);
  };

  return {
    busy,
    offered,
    add,
    /** Looks at a file; nothing is taken before somebody has seen whom it talks to. */
    offer: async (file: File) => {
      const text = await file.text();
      const answer = await order<{ connector: ConnectorSummary }>({ intent: 'read', text });
      if (answer) setOffered({ ...answer.connector, text });
    },
    leave: () => setOffered(null),
    take: async ({ text, id }: OfferedConnector) => {
      if (!(await order({ intent: 'add', text }))) return;
      setOffered(null);
      await add(id);
    },
    remove: (id: string) => order({ intent: 'remove', id }),
  };
}
