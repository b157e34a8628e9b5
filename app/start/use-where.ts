import { useState } from 'react';
import { messageOf } from '~/core/fault';
import type { DestinationRecord } from '~/core/show/records';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** How long the upload is tested, seconds. */
export const TEST_SECONDS = 5;

export interface WhereProps {
  /** Whether the key of the destination is there. */
  hasKey: boolean;
  /** A key was stored, or came by itself. */
  onKey: () => void;
  /** The upload that was measured, kbps. */
  onMeasured: (kbps: number) => void;
}

/** Saves where the show goes, and measures the way there. */
export function useWhere({ onKey, onMeasured }: Pick<WhereProps, 'onKey' | 'onMeasured'>) {
  const { t } = useTranslation();
  const { store, showId } = useStudio();
  const [problem, setProblem] = useState('');
  const [testing, setTesting] = useState(false);
  /** @param key null to keep the one there is */
  const save = async (destination: DestinationRecord, key: string | null): Promise<void> => {
    setProblem('');
    setTesting(true);
    const title = destination.details.title;
    try {
      const shows = [...store.document().values()].flatMap((r) => (r.kind === 'show' ? [r] : []));
      const fields = shows.map((show) => ({ ...show, fields: { ...show.fields, title } }));
      store.edit(t('start.where.title'), [destination, ...fields]);
      await store.saved();
      if (key) {
        await post(`/show/${showId}/keys`, { destinationId: destination.id, key });
        onKey();
      }
      const { test } = await post<{ test: { sustainedKbps: number } }>(`/show/${showId}/line-test`, {
        destinationId: destination.id,
        url: destination.url,
        seconds: String(TEST_SECONDS),
      });
      onMeasured(test.sustainedKbps);
    } catch (error) {
      setProblem(error instanceof TypeError ? t('home.notReachable') : messageOf(error));
    } finally {
      setTesting(false);
    }
  };
  return { save, problem, testing };
}

/** @throws Error with what the server says is wrong */
export async function post<T>(path: string, form: Record<string, string>): Promise<T> {
  const response = await fetch(path, { method: 'POST', body: new URLSearchParams(form) });
  const answer = (await response.json()) as T & { message?: string };
  if (!response.ok) throw new Error(answer.message ?? `${response.status}`);
  return answer;
}
