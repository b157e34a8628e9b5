import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useCallback, useEffect, useState } from 'react';
import { messageOf } from '~/core/fault';
import { recordsOf } from '~/core/show/document';
import { soundChannel } from '~/core/show/stage-edits';
import type { InputRecord } from '~/core/show/records';
import type { FeedInput } from '~/core/show/inputs/feed';
import type { PageInput } from '~/core/show/inputs/page';
import { ChoiceRow } from '../studio/choice-row';
import { NumberField } from '../studio/number-field';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { FIELD_GRID } from './field-layout';
import type { InputFieldsProps } from './input-parts';

interface Facts {
  host: string | null;
  browser: boolean;
  intakePort: number;
}

/** What the server knows of an input's address, and how to give it another one. */
function useAddress(inputId: string) {
  const { t } = useTranslation();
  const { showId, say } = useStudio();
  const [facts, setFacts] = useState<Facts | null>(null);
  const url = `/show/${showId}/input-address`;
  const post = useCallback(
    async <T,>(intent: 'set' | 'copy' | 'renew', address = ''): Promise<T | null> => {
      try {
        const response = await fetch(url, {
          method: 'POST',
          body: new URLSearchParams({ intent, inputId, address }),
        });
        const answer = (await response.json()) as T & { message?: string };
        if (response.ok) return answer;
        say(answer.message ?? t('layout.theAddressWasNotTaken', { status: response.status }));
      } catch (error) {
        say(`The studio server did not take the address (${messageOf(error)}): check that it runs.`);
      }
      return null;
    },
    [url, inputId, say, t],
  );
  useEffect(() => {
    let there = true;
    fetch(`${url}?inputId=${encodeURIComponent(inputId)}`)
      .then((response) => response.json() as Promise<Facts>)
      .then((found) => there && setFacts(found))
      .catch((error: unknown) => say(`The input's address could not be asked for: ${messageOf(error)}`));
    return () => {
      there = false;
    };
  }, [url, inputId, say]);
  const set = async (address: string) => {
    const found = await post<Facts>('set', address);
    if (found) setFacts(found);
    return found !== null;
  };
  return { facts, set, post };
}

/** Goes in and is not shown again: addresses of pages and cameras often hold a password. */
function AddressField({
  host,
  example,
  onSet,
}: {
  host: string | null;
  example: string;
  onSet: (address: string) => Promise<boolean>;
}) {
  const { t } = useTranslation();
  const [text, setText] = useState('');
  const [busy, setBusy] = useState(false);
  const take = async () => {
    setBusy(true);
    if (await onSet(text)) setText('');
    setBusy(false);
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (text.trim() !== '') void take();
      }}
      style={{ display: 'flex', gap: 6, alignItems: 'flex-start', marginTop: 8 }}
    >
      <TextField
        label={host ? t('layout.anotherAddress') : t('layout.address')}
        placeholder={example}
        value={text}
        onChange={(e) => setText(e.target.value)}
        helperText={host ? t('layout.nowHostKeptSealedNot', { host }) : t('layout.keptSealedNotShownAgain')}
        slotProps={{ htmlInput: { spellCheck: false, autoComplete: 'off' }, inputLabel: { shrink: true } }}
        sx={{ flex: 1 }}
      />
      <Button type="submit" variant="contained" disabled={busy || text.trim() === ''} sx={{ mt: 0.25 }}>
        {t('layout.use')}
      </Button>
    </form>
  );
}

/** A web page: its address, its size and how often it is looked at, what it may reach. */
export function PageFields({ input, source, set }: Omit<InputFieldsProps<PageInput>, 'failed'>) {
  const { t } = useTranslation();
  const { facts, set: setAddress } = useAddress(input.id);
  const state = useDesk((now) => now.inputs.find((i) => i.inputId === input.id));
  const blocked = (state?.blocked ?? []).filter((host) => !source.allowed.includes(host));
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      {facts?.browser === false && (
        <p style={{ color: 'var(--rose)', fontSize: 12.5, margin: 0, lineHeight: 1.45 }}>
          {t('layout.noBrowserIsInstalledOn')}
        </p>
      )}
      <AddressField
        host={facts?.host ?? null}
        example="https://name.example/overlay"
        onSet={(address) => setAddress(address)}
      />
      <div style={FIELD_GRID}>
        <NumberField
          label={t('layout.width')}
          unit="px"
          value={source.width}
          min={16}
          max={3840}
          onCommit={(width) => set(t('layout.size'), { ...source, width: Math.round(width) })}
        />
        <NumberField
          label={t('layout.height')}
          unit="px"
          value={source.height}
          min={16}
          max={2160}
          onCommit={(height) => set(t('layout.size'), { ...source, height: Math.round(height) })}
        />
        <NumberField
          label={t('layout.maxRate')}
          unit="fps"
          value={source.fps}
          min={0.2}
          max={30}
          digits={source.fps < 1 ? 1 : 0}
          onCommit={(fps) => set(t('layout.rate'), { ...source, fps })}
        />
      </div>
      <PageSound input={input} sounds={state?.hasSound ?? false} />
      {blocked.map((host) => (
        <Button
          key={host}
          onClick={() =>
            set(t('layout.allowHost', { host }), { ...source, allowed: [...source.allowed, host] })
          }
        >
          {t('layout.allowHost', { host })}
        </Button>
      ))}
      {source.allowed.map((host) => (
        <div key={host} style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
          <span className="pose-name" title={host}>
            {t('layout.mayReachHost', { host })}
          </span>
          <Button
            aria-label={t('layout.noLongerAllowHost', { host })}
            onClick={() =>
              set(t('layout.noLongerAllowHost', { host }), {
                ...source,
                allowed: source.allowed.filter((h) => h !== host),
              })
            }
          >
            {t('layout.remove')}
          </Button>
        </div>
      ))}
    </div>
  );
}

/** What a page plays comes into the mixer when somebody wants it there: most have nothing to play. */
function PageSound({ input, sounds }: { input: InputRecord; sounds: boolean }) {
  const { store } = useStudio();
  const document = useDocument();
  const { t } = useTranslation();
  const channel = recordsOf(document, 'channel').find(
    ({ source }) => source.type === 'input' && source.inputId === input.id,
  );
  const words = channel
    ? t('pageSound.on', { name: channel.name })
    : t(sounds ? 'pageSound.plays' : 'pageSound.off');
  return (
    <div style={{ display: 'flex', gap: 8, alignItems: 'center', minHeight: 32 }}>
      <p className="quiet-note" style={{ flex: 1, margin: 0 }}>
        {words}
      </p>
      {!channel && (
        <Button
          variant={sounds ? 'contained' : 'text'}
          onClick={() =>
            store.edit(t('pageSound.added', { name: input.name }), [
              soundChannel(document, input, crypto.randomUUID()),
            ])
          }
        >
          {t('pageSound.add')}
        </Button>
      )}
    </div>
  );
}

/** A network feed: sent here by an encoder, or fetched. */
export function FeedFields({ input, source, set }: Omit<InputFieldsProps<FeedInput>, 'failed'>) {
  const { t } = useTranslation();
  const { facts, set: setAddress, post } = useAddress(input.id);
  const { say } = useStudio();
  const copy = async (intent: 'copy' | 'renew') => {
    const answer = await post<{ address: string }>(intent);
    if (!answer) return;
    try {
      await navigator.clipboard.writeText(answer.address);
      say(intent === 'copy' ? t('layout.copiedWithItsKeyPaste') : t('layout.aNewKeyIsIn'));
    } catch {
      say(t('layout.theBrowserDidNotAllow'));
    }
  };
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <ChoiceRow
        label={t('layout.feed')}
        options={[
          {
            value: 'sent',
            words: t('layout.pushRtmp'),
            title: t('layout.anEncoderAPhoneOr'),
          },
          { value: 'fetched', words: t('layout.pull'), title: t('layout.fromAnAddressRtspHls') },
        ]}
        value={source.way}
        onChange={(way) => set(t('layout.way'), { ...source, way })}
      />
      {source.way === 'sent' ? (
        <>
          <div style={{ display: 'flex', gap: 6 }}>
            <Button variant="contained" onClick={() => void copy('copy')}>
              {t('layout.copyTheAddress')}
            </Button>
            <Button onClick={() => void copy('renew')} title={t('layout.makesTheOldAddressWorthless')}>
              {t('layout.newKey')}
            </Button>
          </div>
          <p className="quiet-note">
            {`For any encoder that sends RTMP with H.264 and AAC${facts ? `, to port ${facts.intakePort} of this machine` : ''}.`}
          </p>
        </>
      ) : (
        <AddressField
          host={facts?.host ?? null}
          example="rtsp://camera.example/stream"
          onSet={(address) => setAddress(address)}
        />
      )}
    </div>
  );
}
