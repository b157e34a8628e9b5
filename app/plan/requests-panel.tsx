import AddRounded from '@mui/icons-material/AddRounded';
import CloseRounded from '@mui/icons-material/CloseRounded';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useCallback, useEffect, useState } from 'react';
import { messageOf } from '~/core/fault';
import { hostAndPort, readAddress } from '~/core/inputs/web-address';
import { recordsOf } from '~/core/show/document';
import { REQUEST_METHODS, type RequestRecord } from '~/core/show/rundown-records';
import { CommitField } from '../studio/commit-field';
import { order } from '../studio/order';
import { SmallButton } from '../studio/small-button';
import { useDocument, useStudio } from '../studio/studio-context';
import { Toggle } from '../studio/toggle';
import { useTranslation } from '../words/words';

interface Allowed {
  host: string;
  inside: boolean;
}
interface Facts {
  allowed: readonly Allowed[];
  secrets: readonly string[];
}

/** What is asked before a host inside the house is allowed. */
interface Asked {
  host: string;
  why: string;
}

/** Requests to other programs, and the hosts they may go to. */
export function RequestsPanel() {
  const { store, showId, say } = useStudio();
  const requests = recordsOf(useDocument(), 'request');
  const { t } = useTranslation();
  const url = `/show/${showId}/outward`;
  const [facts, setFacts] = useState<Facts>({ allowed: [], secrets: [] });
  const [asked, setAsked] = useState<Asked | null>(null);
  const [secret, setSecret] = useState<{ id: string; secret: string } | null>(null);
  const load = useCallback(async () => {
    const response = await fetch(url);
    if (response.ok) setFacts((await response.json()) as Facts);
  }, [url]);
  useEffect(() => void load().catch((error: unknown) => say(messageOf(error))), [load, say]);
  const allow = async (host: string, inside: boolean) => {
    setAsked(null);
    try {
      const { allowed } = await order<{ allowed: Allowed[] }>(url, { what: 'allow', host, inside });
      setFacts((now) => ({ ...now, allowed }));
    } catch (error) {
      // Inside the house it is the owner's word that counts.
      if (!inside && /inside this house/.test(messageOf(error))) setAsked({ host, why: messageOf(error) });
      else say(messageOf(error));
    }
  };
  const forget = async (host: string) => {
    try {
      const { allowed } = await order<{ allowed: Allowed[] }>(url, { what: 'forget', host });
      setFacts((now) => ({ ...now, allowed }));
    } catch (error) {
      say(messageOf(error));
    }
  };
  const makeSecret = async (id: string) => {
    try {
      const made = await order<{ secret: string }>(url, { what: 'secret', requestId: id });
      setSecret({ id, secret: made.secret });
      await load();
    } catch (error) {
      say(messageOf(error));
    }
  };
  return (
    <section aria-label={t('requests.title')} className="plan-fields">
      <h3>{t('requests.title')}</h3>
      <p className="hint">{t('requests.hint')}</p>
      {requests.map((request) => (
        <Request
          key={request.id}
          request={request}
          allowed={facts.allowed}
          hasSecret={facts.secrets.includes(request.id)}
          secret={secret?.id === request.id ? secret.secret : null}
          onAllow={(host) => void allow(host, false)}
          onSecret={() => void makeSecret(request.id)}
        />
      ))}
      <div className="plan-head">
        <Button
          startIcon={<AddRounded />}
          onClick={() =>
            store.edit('Add request', [
              {
                ...{ kind: 'request', id: crypto.randomUUID(), showId, name: t('requests.newName') },
                position: (requests.at(-1)?.position ?? -1) + 1,
                ...{ method: 'POST', url: 'http://', body: '', signed: false },
              },
            ])
          }
        >
          {t('requests.add')}
        </Button>
      </div>
      {asked && (
        <div role="alert" className="asked">
          <p>{asked.why}</p>
          <div className="plan-head">
            <Button onClick={() => void allow(asked.host, true)}>{t('requests.allowInside')}</Button>
            <Button onClick={() => setAsked(null)}>{t('requests.leave')}</Button>
          </div>
        </div>
      )}
      {facts.allowed.length > 0 && (
        <section aria-label={t('requests.allowed')}>
          <h3>{t('requests.allowed')}</h3>
          {facts.allowed.map(({ host, inside }) => (
            <div key={host} className="press-line">
              <span className="figure one-line">{host}</span>
              <span className="quiet">{inside ? t('requests.inside') : ''}</span>
              <SmallButton label={t('requests.forget', { host })} onClick={() => void forget(host)}>
                <CloseRounded />
              </SmallButton>
            </div>
          ))}
        </section>
      )}
    </section>
  );
}

function Request({
  request,
  allowed,
  hasSecret,
  secret,
  onAllow,
  onSecret,
}: {
  request: RequestRecord;
  allowed: readonly Allowed[];
  hasSecret: boolean;
  /** Just made: it is shown this once. */
  secret: string | null;
  onAllow: (host: string) => void;
  onSecret: () => void;
}) {
  const { store, control, say } = useStudio();
  const { t } = useTranslation();
  const set = (what: string, part: Partial<RequestRecord>) =>
    store.edit(`${what} of ${request.name}`, [{ ...request, ...part }]);
  const host = hostOf(request.url);
  const mayGo = host !== null && allowed.some((one) => one.host === host);
  const send = () =>
    void control
      .press({ command: 'request', params: { requestId: request.id } }, 'page')
      .then((problem) => say(problem ?? t('requests.sent', { name: request.name })));
  return (
    <section aria-label={request.name} className="cue">
      <div className="press-line">
        <CommitField
          label={t('requests.name')}
          value={request.name}
          onCommit={(name) => set('Name', { name })}
        />
        <SmallButton
          label={t('requests.remove', { name: request.name })}
          onClick={() => store.edit(`Remove ${request.name}`, [], [request.id])}
        >
          <CloseRounded />
        </SmallButton>
      </div>
      <div className="request-to">
        <TextField
          select
          label={t('requests.method')}
          value={request.method}
          onChange={({ target }) => set('Method', { method: target.value as RequestRecord['method'] })}
        >
          {REQUEST_METHODS.map((method) => (
            <MenuItem key={method} value={method}>
              {method}
            </MenuItem>
          ))}
        </TextField>
        <CommitField
          label={t('requests.url')}
          value={request.url}
          max={2000}
          onCommit={(url) => set('Address', { url })}
          problem={addressProblem}
        />
      </div>
      {request.method !== 'GET' && (
        <CommitField
          label={t('requests.body')}
          value={request.body}
          max={10_000}
          lines={3}
          allowEmpty
          onCommit={(body) => set('Body', { body })}
        />
      )}
      <Toggle
        label={t('requests.signed')}
        on={request.signed}
        onChange={(signed) => set('Signature', { signed })}
      />
      {request.signed && (
        <div className="press-line">
          {secret === null ? (
            <span className="quiet">{t(hasSecret ? 'requests.hasSecret' : 'requests.noSecret')}</span>
          ) : (
            <code className="one-line">{secret}</code>
          )}
          <Button onClick={onSecret}>{t('requests.makeSecret')}</Button>
        </div>
      )}
      <div className="plan-head">
        {host !== null && !mayGo && (
          <Button onClick={() => onAllow(host)}>{t('requests.allow', { host })}</Button>
        )}
        <Button disabled={!mayGo} onClick={send}>
          {t('requests.send')}
        </Button>
      </div>
    </section>
  );
}

function hostOf(url: string): string | null {
  try {
    return hostAndPort(readAddress(url, ['http', 'https']));
  } catch {
    return null;
  }
}

function addressProblem(url: string): string | null {
  try {
    readAddress(url, ['http', 'https']);
    return null;
  } catch (error) {
    return messageOf(error);
  }
}
