import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { RECORDED_PICTURES, type DeliverySettings } from '~/core/delivery/settings';
import { recordsOf } from '~/core/show/document';
import type { ServerFacts } from '../routes/preflight-facts';
import { useBroadcastControl } from '../studio/broadcast-control';
import { CommitField } from '../studio/commit-field';
import { NumberField } from '../studio/number-field';
import { useBus, useDocument, useStudio } from '../studio/studio-context';
import { Toggle } from '../studio/toggle';
import { useTranslation } from '../words/words';

const NO_SERVER = 'The studio server does not answer: check that it runs, then try again.';
const RECORD_WORDS = {
  wide: 'The wide picture',
  tall: 'The tall picture, when it is sent',
  clean: 'The wide picture without alerts and chat (one more encode)',
} as const;

/** What is recorded and how it is named, how far one can look back, and who is told that it begins. */
export function KeepingPanel({
  facts,
  refresh,
}: {
  facts: ServerFacts | null;
  refresh: () => Promise<void>;
}) {
  const { t } = useTranslation();
  const { store } = useStudio();
  const document = useDocument();
  const relay = useBus((now) => now.relay);
  const broadcast = useBus((now) => now.broadcast);
  const control = useBroadcastControl();
  const show = recordsOf(document, 'show')[0];
  const { delivery } = show;
  const set = (name: string, change: Partial<DeliverySettings>) =>
    store.edit(name, [{ ...show, delivery: { ...delivery, ...change } }]);
  const { record, lookback } = delivery;
  const setRecord = (change: Partial<DeliverySettings['record']>) =>
    set(t('delivery.recording'), { record: { ...record, ...change } });
  const back = relay?.session?.lookback ?? null;
  return (
    <div style={{ overflow: 'auto', display: 'grid', gap: 10, alignContent: 'start', minHeight: 0 }}>
      <h3 className="small-head">{t('delivery.recordWhileLive')}</h3>
      {RECORDED_PICTURES.filter((p) => show.frames[p === 'clean' ? 'wide' : p].used).map((picture) => (
        <Toggle
          key={picture}
          label={RECORD_WORDS[picture]}
          on={record.frames.includes(picture)}
          onChange={(on) =>
            setRecord({
              frames: on ? [...record.frames, picture] : record.frames.filter((p) => p !== picture),
            })
          }
        />
      ))}
      <RecordingFolder facts={facts} refresh={refresh} />
      <CommitField
        label={t('delivery.nameOfTheFiles')}
        value={record.pattern}
        help={t('delivery.dateTimeShowAndFrame')}
        problem={(value) => (/[/\\:*?"<>|]/.test(value) ? 'no / \\ : * ? " < > | in a file name' : null)}
        onCommit={(pattern) => setRecord({ pattern })}
      />
      <NumberField
        label={t('delivery.aNewFileEvery')}
        unit="min"
        value={record.splitMinutes}
        min={0}
        max={1440}
        step={10}
        onCommit={(splitMinutes) => setRecord({ splitMinutes })}
      />
      <NumberField
        label={t('delivery.andWhenOneHas')}
        unit="MB"
        value={record.splitMb}
        min={0}
        max={1_000_000}
        step={100}
        onCommit={(mb) => setRecord({ splitMb: mb > 0 ? Math.max(10, mb) : 0 })}
      />
      <Toggle
        label={t('delivery.makeAnMp4OfEvery')}
        on={record.rewrap}
        onChange={(rewrap) => setRecord({ rewrap })}
      />
      <NumberField
        label={t('delivery.theEveningIsPlannedFor')}
        unit="min"
        value={delivery.plannedMinutes}
        min={1}
        max={2880}
        step={10}
        onCommit={(plannedMinutes) => set(t('delivery.plannedLength'), { plannedMinutes })}
      />
      <h3 className="small-head">{t('delivery.lookback')}</h3>
      <Toggle
        label={t('delivery.keepTheLastMinutesAt')}
        on={lookback.on}
        onChange={(on) => set(t('delivery.lookBack'), { lookback: { ...lookback, on } })}
      />
      <NumberField
        label={t('delivery.lookbackLength')}
        unit="s"
        value={lookback.seconds}
        min={30}
        max={900}
        step={30}
        disabled={!lookback.on}
        onCommit={(seconds) => set(t('delivery.lookBack'), { lookback: { ...lookback, seconds } })}
      />
      <span style={{ color: 'var(--quiet)', fontSize: 12.5 }}>
        {back
          ? `${Math.round(back.seconds)} of ${back.maxSeconds} s; ${(back.memoryBytes / 1e6).toFixed(0)} MB in memory, ${(back.diskBytes / 1e6).toFixed(0)} on the disk. K keeps it.`
          : t('delivery.kKeepsItAsA')}
        {back?.message && <b style={{ color: 'var(--rose)' }}> {back.message}</b>}
      </span>
      {broadcast.state === 'off' && (
        <Button
          onClick={control.lookBack}
          disabled={control.busy}
          sx={{ bgcolor: 'var(--raised)', justifySelf: 'start' }}
          title={t('delivery.nothingIsSentAndNothing')}
        >
          {t('delivery.keepThemAtHandWithout')}
        </Button>
      )}
      {control.dialog}
      <Announce target={facts?.announceTo ?? null} refresh={refresh} settings={delivery.announce} set={set} />
    </div>
  );
}

/** Where recordings go on this machine: not a part of the show, which may travel. */
function RecordingFolder({ facts, refresh }: { facts: ServerFacts | null; refresh: () => Promise<void> }) {
  const { t } = useTranslation();
  const { showId } = useStudio();
  const [problem, setProblem] = useState('');
  const chosen = facts?.recordings.chosen ?? '';
  const choose = async (folder: string) => {
    setProblem('');
    try {
      const response = await fetch(`/show/${showId}/recording-folder`, {
        method: 'POST',
        body: new URLSearchParams({ folder }),
      });
      if (!response.ok) setProblem(((await response.json()) as { message: string }).message);
      await refresh();
    } catch {
      setProblem(NO_SERVER);
    }
  };
  const wrong = problem || facts?.recordings.problem;
  return (
    <>
      <CommitField
        label={t('delivery.folderOnThisMachineEmpty')}
        value={chosen}
        max={1000}
        allowEmpty
        help={t('delivery.theWholePathCountsFrom')}
        onCommit={(folder) => void choose(folder)}
      />
      {wrong && (
        <p role="status" style={{ margin: 0, fontSize: 13, color: 'var(--rose)', overflowWrap: 'anywhere' }}>
          {wrong}
        </p>
      )}
    </>
  );
}

function Announce({
  target,
  refresh,
  settings,
  set,
}: {
  target: string | null;
  refresh: () => Promise<void>;
  settings: DeliverySettings['announce'];
  set: (name: string, change: Partial<DeliverySettings>) => void;
}) {
  const { t } = useTranslation();
  const { showId } = useStudio();
  const [url, setUrl] = useState('');
  const [secret, setSecret] = useState('');
  const [told, setTold] = useState('');
  const send = async (intent: 'set' | 'remove' | 'try') => {
    setTold('');
    setSecret('');
    try {
      const response = await fetch(`/show/${showId}/announce`, {
        method: 'POST',
        body: new URLSearchParams({ intent, url }),
      });
      const answer = (await response.json()) as { message?: string; secret?: string; tried?: boolean };
      if (!response.ok) return setTold(answer.message ?? 'That did not work.');
      if (answer.secret) {
        setSecret(answer.secret);
        setUrl('');
      }
      if (answer.tried) setTold('It took the message.');
      await refresh();
    } catch {
      setTold(NO_SERVER);
    }
  };
  return (
    <>
      <h3 className="small-head">{t('delivery.announceTheBeginning')}</h3>
      <Toggle
        label={target ? t('delivery.tellTargetWhenItIs', { target }) : t('delivery.tellAnotherServiceWhenIt')}
        on={settings.on}
        onChange={(on) => set(t('delivery.announce'), { announce: { ...settings, on } })}
      />
      <CommitField
        label={t('delivery.words')}
        value={settings.text}
        max={1000}
        help={t('delivery.showTitleAndDestinationsAre')}
        onCommit={(text) => set(t('delivery.announce'), { announce: { ...settings, text } })}
      />
      <div style={{ display: 'flex', gap: 8 }}>
        <TextField
          label={target ? t('delivery.anotherAddressStoredHidden') : t('delivery.addressOfTheHook')}
          type="password"
          autoComplete="off"
          value={url}
          onChange={(e) => setUrl(e.target.value)}
          onKeyDown={(e) => e.stopPropagation()}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <Button onClick={() => void send('set')} disabled={url.trim() === ''} sx={{ height: 36 }}>
          {t('delivery.store')}
        </Button>
      </div>
      {target && (
        <div style={{ display: 'flex', gap: 8 }}>
          <Button onClick={() => void send('try')} sx={{ bgcolor: 'var(--raised)' }}>
            {t('delivery.sendTest')}
          </Button>
          <Button onClick={() => void send('remove')} sx={{ color: 'var(--rose)' }}>
            {t('delivery.removeTheAddress')}
          </Button>
        </div>
      )}
      {secret && (
        <p role="status" style={{ margin: 0, fontSize: 13, lineHeight: 1.4, overflowWrap: 'anywhere' }}>
          Secret for checking the signature, shown this once: <code>{secret}</code>
        </p>
      )}
      {told && (
        <p role="status" style={{ margin: 0, fontSize: 13, color: 'var(--quiet)' }}>
          {told}
        </p>
      )}
    </>
  );
}
