import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { messageOf } from '~/core/fault';
import { kindOfCandidate, type IceFound, type IceSettings } from '~/core/guests/ice';
import type { IceServer } from '~/protocol/guest';
import { order } from '../studio/order';
import { useTranslation } from '../words/words';

/** Servers are asked for so long. */
const TEST_MS = 8000;

export type IceFacts = IceSettings & { secret: boolean };

/** Tries which ways lead out of this network. */
async function tryWays(iceServers: IceServer[]): Promise<IceFound> {
  const found: IceFound = { host: false, reflexive: false, relayed: false };
  const pc = new RTCPeerConnection({ iceServers });
  pc.createDataChannel('way');
  let silent = false;
  pc.onicecandidateerror = ({ url }) => (silent ||= /^stuns?:/.test(url));
  await new Promise<void>((resolve) => {
    const timer = setTimeout(resolve, TEST_MS);
    pc.onicecandidate = ({ candidate }) => {
      const kind = candidate && kindOfCandidate(candidate.candidate);
      if (kind) found[kind] = true;
      if (candidate) return;
      // Without a router between, one looks from outside as from inside, which is not told twice.
      found.reflexive ||= !silent;
      clearTimeout(timer);
      resolve();
    };
    void pc.setLocalDescription();
  });
  pc.close();
  return found;
}

/** By which servers guests and desk find each other when routers stand between them, and whether they work. */
export function IcePanel({ ice }: { ice: IceFacts }) {
  const { t } = useTranslation();
  const [kept, setKept] = useState(ice);
  const [stun, setStun] = useState(ice.stun.join(' '));
  const [turn, setTurn] = useState(ice.turn.join(' '));
  const [user, setUser] = useState(ice.user);
  const [secret, setSecret] = useState('');
  const [busy, setBusy] = useState(false);
  const [found, setFound] = useState<IceFound | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const run = async (work: () => Promise<void>) => {
    setBusy(true);
    setFound(null);
    setProblem(null);
    try {
      await work();
    } catch (error) {
      setProblem(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
  const save = () =>
    run(async () => {
      const { facts } = await order<{ facts: IceFacts }>('/computer/ice', {
        ...{ what: 'set', stun, turn, user, secret },
      });
      setKept(facts);
      setStun(facts.stun.join(' '));
      setTurn(facts.turn.join(' '));
      setSecret('');
    });
  const test = () =>
    run(async () => {
      const { servers } = await order<{ servers: IceServer[] }>('/computer/ice', { what: 'servers' });
      setFound(await tryWays(servers));
    });
  return (
    <form
      className="computer-fields"
      aria-busy={busy}
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <p className="computer-hint">{t('ways.hint')}</p>
      <TextField
        label={t('ways.stun')}
        placeholder={t('ways.stunExample')}
        value={stun}
        onChange={(event) => setStun(event.target.value)}
      />
      <TextField
        label={t('ways.turn')}
        placeholder={t('ways.turnExample')}
        value={turn}
        onChange={(event) => setTurn(event.target.value)}
      />
      <TextField
        label={t('ways.user')}
        helperText={t('ways.userHint')}
        autoComplete="off"
        value={user}
        onChange={(event) => setUser(event.target.value)}
      />
      <TextField
        type="password"
        autoComplete="off"
        label={t(kept.secret ? 'ways.secretKept' : 'ways.secret')}
        helperText={t('computer.pairHint')}
        value={secret}
        onChange={(event) => setSecret(event.target.value)}
      />
      <div className="door-row">
        <Button type="submit" className="raised" disabled={busy}>
          {t('ways.save')}
        </Button>
        <Button className="raised" disabled={busy} onClick={() => void test()}>
          {t('ways.test')}
        </Button>
      </div>
      <p role="status" className="computer-hint">
        {busy && t('ways.trying')}
        {found &&
          [
            t(found.host ? 'ways.host' : 'ways.noHost'),
            kept.stun.length > 0 && t(found.reflexive ? 'ways.stunAnswers' : 'ways.noStun'),
            kept.turn.length > 0 && t(found.relayed ? 'ways.relayed' : 'ways.noRelay'),
          ]
            .filter(Boolean)
            .join(' ')}
      </p>
      {problem && (
        <p role="alert" className="computer-problem">
          {problem}
        </p>
      )}
    </form>
  );
}
