import Button from '@mui/material/Button';
import { useEffect } from 'react';
import { useRevalidator } from 'react-router';
import { computerOrderSchema, type DoorsState } from '~/protocol/access';
import { AccessList } from '../computer/access-list';
import { DoorPanel } from '../computer/door-panel';
import { IcePanel } from '../computer/ice-panel';
import { LetIn } from '../computer/let-in';
import { ViewerDataPanel } from '../computer/viewer-data';
import { momentOf } from '../home/format';
import { When } from '../home/when';
import { faultResponse, studioOf } from '../server/context.server';
import { formOf } from '../server/form.server';
import { Panel } from '../studio/panel';
import { ThemeSwitch } from '../studio/theme-switch';
import { useTranslation } from '../words/words';
import type { Route } from './+types/computer';

const SIGN_IN_COMMAND = 'npm run sign-in';
const HOUR_MS = 3_600_000;
/** A door that was told something, or called, has answered by then, or is asked again. */
const LOOK_AGAIN_MS = 1000;

export const meta = () => [{ title: 'This computer – Dolomite' }];

/** Who may do what on this computer, who did, where they come in, and what is kept of viewers. */
export function loader({ context }: Route.LoaderArgs) {
  const { access, doors, viewerData, ice } = studioOf(context);
  return {
    ice: ice.facts(),
    entries: access.list(),
    audit: access.audited(),
    me: context.visitor.id,
    viewerData: viewerData.facts(),
    doors: doors.state(),
  };
}

/** Orders as `computerOrderSchema` has them. */
export async function action({ request, context }: Route.ActionArgs) {
  const studio = studioOf(context);
  const { access, doors, viewerData } = studio;
  const { error, value } = computerOrderSchema.validate(Object.fromEntries(await formOf(request)));
  if (error) return Response.json({ message: error.message }, { status: 400 });
  try {
    switch (value.intent) {
      case 'link': {
        const { role, name, hours, uses, seatId } = value;
        const expiresMs = hours === 0 ? null : Date.now() + hours * HOUR_MS;
        const { token } = access.makeLink(context.visitor, {
          ...{ role, name, expiresMs, usesLeft: uses === 0 ? null : uses, seatId },
        });
        return Response.json({ token });
      }
      case 'house':
        doors.setHouse(value.open);
        access.audit(context.visitor, value.open ? 'doorOpened' : 'doorClosed');
        return Response.json({});
      case 'pair':
        doors.pair(value.word);
        access.audit(context.visitor, 'doorPaired', doors.state().elsewhere!.url);
        return Response.json({});
      case 'unpair':
        doors.unpair();
        access.audit(context.visitor, 'doorUnpaired');
        return Response.json({});
      case 'revoke':
        access.revoke(context.visitor, value.id);
        return Response.json({ message: 'Revoked.' });
      case 'keepFor':
        viewerData.keepFor(value.days, Date.now());
        return Response.json({});
      case 'find':
        return Response.json({ found: viewerData.find(value.letters) });
      case 'forget': {
        const count = studio.forget(value.platform, value.viewer);
        access.audit(context.visitor, 'deleted', `everything of a viewer on ${value.platform}`);
        return Response.json({ message: `Deleted: ${count}` });
      }
    }
  } catch (fault) {
    return faultResponse(fault);
  }
}

/** Something was asked of a door that it has not done yet. */
const isUnderWay = ({ house, elsewhere }: DoorsState): boolean =>
  (house.open && house.can && house.problem === null && house.addresses.length === 0) ||
  (elsewhere !== null && !elsewhere.connected);

export default function Computer({
  loaderData: { entries, audit, me, viewerData, doors, ice },
}: Route.ComponentProps) {
  const { t } = useTranslation();
  const { revalidate, state } = useRevalidator();
  const underWay = isUnderWay(doors);
  useEffect(() => {
    if (!underWay || state !== 'idle') return;
    const timer = setTimeout(() => void revalidate(), LOOK_AGAIN_MS);
    return () => clearTimeout(timer);
  }, [underWay, state, revalidate]);
  return (
    <main className="computer">
      <header>
        <h1>{t('computer.title')}</h1>
        <ThemeSwitch />
        <Button component="a" href="/" className="raised">
          {t('home.title')}
        </Button>
      </header>
      <div className="computer-columns">
        <div className="computer-side">
          <Panel
            label={t('computer.who')}
            title={t('computer.who')}
            aside={
              <LetIn
                addresses={[...(doors.elsewhere?.addresses ?? []), ...doors.house.addresses]}
                local={doors.local}
              />
            }
          >
            <p className="computer-hint">
              {t('computer.whoHint')} <code>{SIGN_IN_COMMAND}</code>
            </p>
            <AccessList entries={entries} me={me} />
          </Panel>
          <Panel label={t('computer.door')} title={t('computer.door')}>
            <DoorPanel doors={doors} />
          </Panel>
          <Panel label={t('ways.title')} title={t('ways.title')}>
            <IcePanel ice={ice} />
          </Panel>
          <Panel label={t('computer.kept')} title={t('computer.kept')}>
            <ViewerDataPanel facts={viewerData} />
          </Panel>
        </div>
        <Panel label={t('computer.audit')} title={t('computer.audit')} style={{ minHeight: 0 }}>
          <ol className="computer-list" tabIndex={0} aria-label={t('computer.audit')}>
            {audit.map(({ seq, atMs, who, what, about }) => (
              <li key={seq}>
                <div className="computer-line">
                  <b>{t(`computer.audited.${what}`)}</b>
                  <span className="figure">
                    <When words={() => momentOf(atMs)} />
                  </span>
                </div>
                <div className="computer-hint">
                  {who}
                  {about && about !== who ? ` · ${about}` : ''}
                </div>
              </li>
            ))}
          </ol>
        </Panel>
      </div>
    </main>
  );
}
