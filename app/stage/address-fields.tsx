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
        say(answer.message ?? `The address was not taken (status ${response.status}).`);
      } catch (error) {
        say(`The studio server did not take the address (${messageOf(error)}): check that it runs.`);
      }
      return null;
    },
    [url, inputId, say],
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
        label={host ? 'Another address' : 'Address'}
        placeholder={example}
        value={text}
        onChange={(e) => setText(e.target.value)}
        helperText={host ? `Now: ${host}. Kept sealed, not shown again.` : 'Kept sealed, not shown again.'}
        slotProps={{ htmlInput: { spellCheck: false, autoComplete: 'off' }, inputLabel: { shrink: true } }}
        sx={{ flex: 1 }}
      />
      <Button type="submit" variant="contained" disabled={busy || text.trim() === ''} sx={{ mt: 0.25 }}>
        Use
      </Button>
    </form>
  );
}

/** A web page: its address, its size and how often it is looked at, what it may reach. */
export function PageFields({ input, source, set }: Omit<InputFieldsProps<PageInput>, 'failed'>) {
  const { facts, set: setAddress } = useAddress(input.id);
  const state = useDesk((now) => now.inputs.find((i) => i.inputId === input.id));
  const blocked = (state?.blocked ?? []).filter((host) => !source.allowed.includes(host));
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      {facts?.browser === false && (
        <p style={{ color: 'var(--rose)', fontSize: 12.5, margin: 0, lineHeight: 1.45 }}>
          No browser is installed on the server: install Chromium there, or name one in DOLOMITE_CHROMIUM.
        </p>
      )}
      <AddressField
        host={facts?.host ?? null}
        example="https://name.example/overlay"
        onSet={(address) => setAddress(address)}
      />
      <div style={FIELD_GRID}>
        <NumberField
          label="Width"
          unit="px"
          value={source.width}
          min={16}
          max={3840}
          onCommit={(width) => set('Size', { ...source, width: Math.round(width) })}
        />
        <NumberField
          label="Height"
          unit="px"
          value={source.height}
          min={16}
          max={2160}
          onCommit={(height) => set('Size', { ...source, height: Math.round(height) })}
        />
        <NumberField
          label="Max rate"
          unit="fps"
          value={source.fps}
          min={0.2}
          max={30}
          digits={source.fps < 1 ? 1 : 0}
          onCommit={(fps) => set('Rate', { ...source, fps })}
        />
      </div>
      <PageSound input={input} sounds={state?.hasSound ?? false} />
      {blocked.map((host) => (
        <Button
          key={host}
          onClick={() => set(`Allow ${host}`, { ...source, allowed: [...source.allowed, host] })}
        >
          {`Allow ${host}`}
        </Button>
      ))}
      {source.allowed.map((host) => (
        <div key={host} style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
          <span className="pose-name" title={host}>{`May reach ${host}`}</span>
          <Button
            aria-label={`No longer allow ${host}`}
            onClick={() =>
              set(`No longer allow ${host}`, { ...source, allowed: source.allowed.filter((h) => h !== host) })
            }
          >
            Remove
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
  const { facts, set: setAddress, post } = useAddress(input.id);
  const { say } = useStudio();
  const copy = async (intent: 'copy' | 'renew') => {
    const answer = await post<{ address: string }>(intent);
    if (!answer) return;
    try {
      await navigator.clipboard.writeText(answer.address);
      say(
        intent === 'copy'
          ? 'Copied, with its key. Paste it into the encoder as the server address; what stands behind the last / is the key.'
          : 'A new key is in the copied address. Whoever has the old one is sent away.',
      );
    } catch {
      say('The browser did not allow copying: press again after a click into the page.');
    }
  };
  return (
    <div style={{ display: 'grid', gap: 8 }}>
      <ChoiceRow
        label="Feed"
        options={[
          {
            value: 'sent',
            words: 'Push (RTMP)',
            title: 'An encoder, a phone or a camera publishes it by RTMP',
          },
          { value: 'fetched', words: 'Pull', title: 'From an address: RTSP, HLS, HTTP-FLV' },
        ]}
        value={source.way}
        onChange={(way) => set('Way', { ...source, way })}
      />
      {source.way === 'sent' ? (
        <>
          <div style={{ display: 'flex', gap: 6 }}>
            <Button variant="contained" onClick={() => void copy('copy')}>
              Copy the address
            </Button>
            <Button onClick={() => void copy('renew')} title="Makes the old address worthless">
              New key
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
