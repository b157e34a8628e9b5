import MoreVertRounded from '@mui/icons-material/MoreVertRounded';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useRef, useState } from 'react';
import { Link } from 'react-router';
import type { HomeShow } from './home-show';
import { RenameField } from '../studio/rename-field';
import { useTranslation } from '../words/words';
import { ArchiveDialog } from './archive-dialog';
import { dayOf, lengthOf, plannedOf, sizeOf } from './format';
import { PlanDialog } from './plan-dialog';
import { When } from './when';

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
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [renaming, setRenaming] = useState(false);
  const [archiving, setArchiving] = useState(false);
  const [planning, setPlanning] = useState(false);
  const { id, name, last, missing, nextMs, bytes } = show;
  const gone = show.removedMs !== null;
  const list = new Intl.ListFormat('en', { type: 'unit', style: 'short' });
  const what = [
    t('home.scenes', { count: show.scenes }),
    show.destinations.length === 0 ? t('home.noDestinations') : list.format(show.destinations),
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
  // Done once the menu has gone and given the focus back: a field that opens would lose it again.
  const chosen = useRef<() => void>(undefined);
  const choose = (act: () => void) => () => {
    chosen.current = act;
    setAnchor(null);
  };
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
          onClick={(e) => setAnchor(e.currentTarget)}
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
              ▲ {t('home.missing', { what: list.format(missing.map((one) => t(`home.missingPart.${one}`))) })}
            </span>
            <Link to={`/show/${id}/start`}>{t('home.takeUp')}</Link>
          </p>
        )}
      </div>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        slotProps={{
          transition: {
            onExited: () => {
              chosen.current?.();
              chosen.current = undefined;
            },
          },
        }}
      >
        {gone
          ? [
              <MenuItem key="restore" onClick={choose(() => onOrder({ intent: 'restore', showId: id }))}>
                {t('home.restore')}
              </MenuItem>,
            ]
          : [
              <MenuItem key="rename" onClick={choose(() => setRenaming(true))}>
                {t('home.rename')}
              </MenuItem>,
              <MenuItem
                key="copy"
                onClick={choose(() =>
                  onOrder({ intent: 'copy', showId: id, name: t('home.copyName', { name }).slice(0, 120) }),
                )}
              >
                {t('home.copy')}
              </MenuItem>,
              <MenuItem
                key="archive"
                onClick={choose(() =>
                  onOrder({ intent: show.archivedMs === null ? 'archive' : 'unarchive', showId: id }),
                )}
              >
                {show.archivedMs === null ? t('home.archive') : t('home.unarchive')}
              </MenuItem>,
              <MenuItem key="plan" onClick={choose(() => setPlanning(true))}>
                {t('home.plan')}
              </MenuItem>,
              <MenuItem key="file" onClick={choose(() => setArchiving(true))}>
                {t('home.toFile')}
              </MenuItem>,
              <MenuItem
                key="delete"
                disabled={onAir}
                onClick={choose(() => onOrder({ intent: 'delete', showId: id }))}
              >
                {t('home.remove')}
              </MenuItem>,
            ]}
      </Menu>
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
