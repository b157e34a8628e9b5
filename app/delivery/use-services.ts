import { useCallback, useState } from 'react';
import type { DestinationSettings } from '~/core/delivery/settings';
import { messageOf } from '~/core/fault';
import type { ConnectorSummary } from '../routes/connectors';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

export interface OfferedConnector extends ConnectorSummary {
  text: string;
}

/** Services one can broadcast to, and the files that describe them. */
export function useServices() {
  const { t } = useTranslation();
  const { showId, say } = useStudio();
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

  return {
    busy,
    offered,
    /** What a destination at a service begins with, with its servers as they are now; null when that was not to be had. */
    settingsOf: async (id: string) => {
      const answer = await order<{ destination: DestinationSettings & { name: string } }>({
        intent: 'destination',
        id,
      });
      return answer?.destination ?? null;
    },
    /** Looks at a file; nothing is taken before somebody has seen whom it talks to. */
    offer: async (file: File) => {
      const text = await file.text();
      const answer = await order<{ connector: ConnectorSummary }>({ intent: 'read', text });
      if (answer) setOffered({ ...answer.connector, text });
    },
    leave: () => setOffered(null),
    /** @returns whether it was taken */
    take: async ({ text }: OfferedConnector): Promise<boolean> => {
      if (!(await order({ intent: 'add', text }))) return false;
      setOffered(null);
      return true;
    },
    remove: (id: string) => order({ intent: 'remove', id }),
  };
}
