import { useEffect, useState } from 'react';
import Button from '@mui/material/Button';
import { data, useFetcher, useRevalidator } from 'react-router';
import Joi from 'joi';
import { withoutCopy } from '~/core/delivery/make-room';
import { rewrapFormSchema } from '~/protocol/vault';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import { ChoiceRow } from '../studio/choice-row';
import { Panel } from '../studio/panel';
import { useBus } from '../studio/studio-context';
import { EveningList } from '../vault/evening-list';
import { JobList } from '../vault/job-list';
import { RecordingList } from '../vault/recording-list';
import { RecordingView } from '../vault/recording-view';
import { RoomDialog } from '../vault/room-dialog';
import type { Route } from './+types/vault';
import { useTranslation } from '../words/words';

export { PlaceError as ErrorBoundary } from '../studio/place-error';

export async function loader({ params, context }: Route.LoaderArgs) {
  const studio = studioOf(context);
  // What is not entered yet was made by the broadcast that runs.
  await studio.recordings.scan(
    studio.broadcast.showId ?? params.showId,
    studio.broadcast.status?.session?.recording?.files ?? [],
  );
  return {
    recordings: studio.recordings.list(params.showId),
    freeBytes: studio.recordings.place.freeBytes(),
    evenings: studio.evenings.list(params.showId).map((evening) => ({
      ...evening,
      summary: studio.evenings.summary(evening),
    })),
  };
}

const size = (bytes: number) =>
  bytes < 1e9 ? `${(bytes / 1e6).toFixed(1)} MB` : `${(bytes / 1e9).toFixed(2)} GB`;

const idSchema = Joi.string().max(200).required();
const titleSchema = Joi.string().trim().allow('').max(120).required();

/** intent=delete | deleteMany | rename | rewrap | rewrapAll | cancel | deleteEvening */
export async function action({ request, params, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const fields = await formOf(request);
  const { intent, ...form } = Object.fromEntries(fields);
  try {
    if (intent === 'rewrap') {
      const { error, value } = rewrapFormSchema.validate(form);
      if (error) return data({ message: error.message }, { status: 400 });
      return { job: studio.jobs.add(value).id };
    }
    if (intent === 'deleteMany') {
      const ids = Joi.array().items(idSchema).max(10_000).validate(fields.getAll('id'));
      if (ids.error) return data({ message: ids.error.message }, { status: 400 });
      for (const one of ids.value as string[]) studio.recordings.remove(one);
      const count = (ids.value as string[]).length;
      studio.access.audit(context.visitor, 'deleted', count === 1 ? '1 recording' : `${count} recordings`);
      return { done: true };
    }
    if (intent === 'rewrapAll') {
      for (const { id: recordingId } of withoutCopy(studio.recordings.list(params.showId)))
        studio.jobs.add({ recordingId, to: 'mp4', fromSeconds: null, toSeconds: null });
      return { done: true };
    }
    const id = idSchema.validate(form.id);
    if (id.error) return data({ message: id.error.message }, { status: 400 });
    if (intent === 'delete') {
      studio.access.audit(
        context.visitor,
        'deleted',
        studio.recordings.find(id.value as string)?.file ?? 'a recording',
      );
      studio.recordings.remove(id.value as string);
    } else if (intent === 'cancel') studio.jobs.cancel(id.value as string);
    else if (intent === 'deleteEvening') {
      if (studio.evenings.find(id.value as string)?.showId === params.showId)
        studio.evenings.remove(id.value as string);
    } else if (intent === 'rename') {
      const title = titleSchema.validate(form.title);
      if (title.error) return data({ message: title.error.message }, { status: 400 });
      studio.recordings.rename(id.value as string, title.value as string);
    } else return data({ message: 'unknown intent' }, { status: 400 });
    return { done: true };
  } catch (fault) {
    return faultResponse(fault);
  }
}

export default function Vault({ loaderData }: Route.ComponentProps) {
  const { t } = useTranslation();
  const { recordings, evenings, freeBytes } = loaderData;
  const broadcast = useBus((now) => now.broadcast);
  const relay = useBus((now) => now.relay);
  const jobs = useBus((now) => now.jobs);
  const { revalidate } = useRevalidator();
  const [shown, setShown] = useState<'files' | 'evenings'>('files');
  const [chosen, setChosen] = useState<string | null>(null);
  const [makingRoom, setMakingRoom] = useState(false);
  const fetcher = useFetcher();
  // A broadcast that has ended has left a recording, and a job that is done a copy.
  const done = jobs.filter((j) => j.state === 'done').length;
  const kept = relay?.session?.recording?.files.length ?? 0;
  useEffect(() => {
    void revalidate();
  }, [broadcast.state, done, kept, revalidate]);
  const current = recordings.find((r) => r.id === chosen) ?? recordings[0] ?? null;
  const used = recordings.reduce((sum, r) => sum + r.bytes, 0);
  return (
    <div
      style={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1.4fr)',
        gap: 12,
        height: '100%',
      }}
    >
      <div style={{ display: 'grid', gridTemplateRows: 'minmax(0, 1fr) auto', gap: 12, minHeight: 0 }}>
        <Panel
          label={t('vault.recordings')}
          title={
            <span className="figure" style={{ fontSize: 12.5 }}>
              <span>{`${recordings.length} ${recordings.length === 1 ? 'file' : 'files'}`}</span>
              {` · ${size(used)}`}
              {freeBytes !== null && ` · ${(freeBytes / 1e9).toFixed(0)} GB free`}
            </span>
          }
          aside={
            <ChoiceRow
              label={t('vault.shown')}
              options={[
                { value: 'files', words: t('vault.recordings') },
                { value: 'evenings', words: t('vault.broadcasts') },
              ]}
              value={shown}
              onChange={setShown}
            />
          }
        >
          {shown === 'files' ? (
            <>
              {recordings.length > 0 && (
                <div style={{ display: 'flex', gap: 8, marginBottom: 8 }}>
                  <Button
                    disabled={withoutCopy(recordings).length === 0}
                    onClick={() => void fetcher.submit({ intent: 'rewrapAll' }, { method: 'post' })}
                  >
                    {t('vault.makeAnMp4OfEach')}
                  </Button>
                  <Button onClick={() => setMakingRoom(true)}>{t('vault.freeUpSpace2')}</Button>
                </div>
              )}
              <RecordingList recordings={recordings} chosen={current?.id ?? null} onChoose={setChosen} />
            </>
          ) : (
            <EveningList evenings={evenings} />
          )}
        </Panel>
        <JobList />
      </div>
      {current ? (
        <RecordingView key={current.id} recording={current} />
      ) : (
        <Panel title={t('vault.player')} label={t('vault.player')}>
          <p style={{ color: 'var(--quiet)' }}>{t('vault.chooseARecordingToPlay')}</p>
        </Panel>
      )}
      {makingRoom && <RoomDialog recordings={recordings} onClose={() => setMakingRoom(false)} />}
    </div>
  );
}
