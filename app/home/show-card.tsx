import MoreVertRounded from '@mui/icons-material/MoreVertRounded';
import IconButton from '@mui/material/IconButton';
import { useState } from 'react';
import { Link } from 'react-router';
import type { HomeShow } from './home-show';
import { RenameField } from '../studio/rename-field';
import { useTranslation } from '../words/words';
import { ArchiveDialog } from './archive-dialog';
import { dayOf, lengthOf, plannedOf, sizeOf } from './format';
import { PlanDialog } from './plan-dialog';
import { ShowMenu } from './show-menu';
import { When } from './when';

const LIST = new Intl.ListFormat('en', { type: 'unit', style: 'short' });

/** A planned show that has just begun, or is late, is still the next. */
const STILL_NEXT_MS = 3_600_000;

/** A show as a picture with what there is to know before it is opened. */
export function ShowCard({
  show,
  onAir,
  onOrder,
}: {
  show: HomeShow;
  onAir: boolean;
  onOrder: (fields: Record<string, string>) => void;
}) {
  const { t } = useTranslation();
  // Forty menus that nobody has opened would be made with the page.
  const [menu, setMenu] = useState<{ anchor: HTMLElement; open: boolean } | null>(null);
  const [renaming, setRenaming] = useState(false);
  const [archiving, setArchiving] = useState(false);
  const [planning, setPlanning] = useState(false);
  const { id, name, last, missing, nextMs, bytes } = show;
  const gone = show.removedMs !== null;
  const what = [
    t('home.scenes', { count: show.scenes }),
    show.destinations.length === 0 ? t('home.noDestinations') : LIST.format(show.destinations),
    ...(bytes ? [sizeOf(bytes)] : []),
  ];
  const state = gone ? t('home.deleted') : show.archivedMs !== null ? t('home.archived') : null;
  const picture =
    show.pictureMs === null ? (
      <span className="home-no-picture">
        <svg viewBox="0 0 160 90" aria-hidden>
          <path d="M0 66 22 52 38 62 62 30 88 56 112 22 132 48 160 36V90H0Z" />
        </svg>
        {t('home.noPicture')}
      </span>
    ) : (
      <img src={`/files/pictures/${id}?made=${show.pictureMs}`} alt="" loading="lazy" />
    );
  return (
    <li className="home-card" data-state={state ? 'away' : 'there'}>
      {gone ? (
        <span className="home-picture">{picture}</span>
      ) : (
        <Link to={`/show/${id}/stage`} className="home-picture">
          <span className="visually-hidden">{t('home.open', { name })}</span>
          {picture}
          {onAir && <span className="home-on-air">● {t('home.onAir')}</span>}
        </Link>
      )}
      <div className="home-words">
        {renaming ? (
          <RenameField
            name={name}
            label={t('home.newName', { name })}
            onDone={(next) => {
              setRenaming(false);
              if (next !== null) onOrder({ intent: 'rename', showId: id, name: next });
            }}
          />
        ) : (
          <h2 title={name}>{name}</h2>
        )}
        <IconButton
          aria-label={t('home.menu', { name })}
          aria-haspopup="menu"
          onClick={(e) => setMenu({ anchor: e.currentTarget, open: true })}
        >
          <MoreVertRounded fontSize="small" />
        </IconButton>
        <p title={what.join(' · ')}>{what.join(' · ')}</p>
        <p className="figure">
          {state ??
            (nextMs !== null && nextMs > Date.now() - STILL_NEXT_MS ? (
              <When words={() => t('home.next', { when: plannedOf(nextMs) })} />
            ) : last ? (
              <When
                words={() =>
                  t('home.lastOnAir', {
                    date: dayOf(last.startedMs),
                    length: lengthOf(last.startedMs, last.endedMs),
                  })
                }
              />
            ) : (
              t('home.neverOnAir')
            ))}
        </p>
        {!state && missing.length > 0 && (
          <p className="home-missing">
            <span>
              ▲ {t('home.missing', { what: LIST.format(missing.map((one) => t(`home.missingPart.${one}`))) })}
            </span>
            <Link to={`/show/${id}/start`}>{t('home.takeUp')}</Link>
          </p>
        )}
      </div>
      {menu && (
        <ShowMenu
          show={show}
          onAir={onAir}
          {...menu}
          onClose={() => setMenu({ ...menu, open: false })}
          onGone={(chosen) => {
            setMenu(null);
            chosen?.();
          }}
          onOrder={onOrder}
          onRename={() => setRenaming(true)}
          onPlan={() => setPlanning(true)}
          onFile={() => setArchiving(true)}
        />
      )}
      {planning && (
        <PlanDialog
          name={name}
          nextMs={nextMs}
          onDone={(next) => {
            setPlanning(false);
            if (next !== undefined) onOrder({ intent: 'plan', showId: id, nextMs: String(next ?? '') });
          }}
        />
      )}
      {archiving && <ArchiveDialog showId={id} name={name} onClose={() => setArchiving(false)} />}
    </li>
  );
}
