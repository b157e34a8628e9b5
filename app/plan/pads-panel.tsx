import AddRounded from '@mui/icons-material/AddRounded';
import ArrowUpwardRounded from '@mui/icons-material/ArrowUpwardRounded';
import CloseRounded from '@mui/icons-material/CloseRounded';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { useState } from 'react';
import { recordsOf } from '~/core/show/document';
import type { PadPageRecord } from '~/core/show/rundown-records';
import { newPress, PressFields } from '../commands/press-fields';
import { pressWords } from '../commands/press-words';
import { CommitField } from '../studio/commit-field';
import { SmallButton } from '../studio/small-button';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** Pages of tiles for phones and tablets: any command, and faders below them. */
export function PadsPanel() {
  const { store, showId } = useStudio();
  const document = useDocument();
  const { t } = useTranslation();
  const pages = recordsOf(document, 'padPage');
  const add = () =>
    store.edit('Add pad page', [
      {
        kind: 'padPage',
        id: crypto.randomUUID(),
        showId,
        name: t('pads.newPage', { n: pages.length + 1 }),
        position: (pages.at(-1)?.position ?? -1) + 1,
        tiles: recordsOf(document, 'scene')
          .slice(0, 6)
          .map(({ id }) => ({ press: { command: 'scene', params: { sceneId: id } }, label: '' })),
        channelIds: recordsOf(document, 'channel')
          .slice(0, 3)
          .map(({ id }) => id),
      },
    ]);
  return (
    <div className="plan-fields">
      <p className="hint">{t('pads.hint')}</p>
      {pages.length === 0 && <p className="hint">{t('pads.none')}</p>}
      {pages.map((page) => (
        <PadPage key={page.id} page={page} />
      ))}
      <div className="plan-head">
        <Button startIcon={<AddRounded />} onClick={add}>
          {t('pads.add')}
        </Button>
        <Button component="a" href="/computer" target="_blank" rel="noopener">
          {t('pads.letIn')}
        </Button>
      </div>
    </div>
  );
}

function PadPage({ page }: { page: PadPageRecord }) {
  const { store } = useStudio();
  const document = useDocument();
  const { t } = useTranslation();
  const [open, setOpen] = useState<number | null>(null);
  const set = (what: string, part: Partial<PadPageRecord>) =>
    store.edit(`${what} of ${page.name}`, [{ ...page, ...part }]);
  const [dragged, setDragged] = useState<number | null>(null);
  const [over, setOver] = useState<number | null>(null);
  const move = (from: number, to: number) => {
    const tiles = [...page.tiles];
    tiles.splice(to, 0, ...tiles.splice(from, 1));
    setDragged(null);
    setOpen(null);
    set('Tiles', { tiles });
  };
  return (
    <section aria-label={page.name} className="cue">
      <div className="press-line">
        <CommitField
          label={t('pads.pageName')}
          value={page.name}
          onCommit={(name) => set('Name', { name })}
        />
        <SmallButton
          label={t('pads.removePage')}
          onClick={() => store.edit(`Remove ${page.name}`, [], [page.id])}
        >
          <CloseRounded />
        </SmallButton>
      </div>
      <ol className="cue-steps">
        {page.tiles.map((tile, i) => {
          const name = tile.label || pressWords(tile.press, document);
          return (
            <li
              key={i}
              className="press-row"
              draggable={open !== i}
              data-over={over === i && dragged !== null && dragged !== i}
              onDragStart={() => setDragged(i)}
              onDragOver={(event) => {
                if (dragged === null) return;
                event.preventDefault();
                setOver(i);
              }}
              onDragEnd={() => setDragged(null)}
              onDrop={() => dragged !== null && move(dragged, i)}
            >
              <div className="press-line">
                <button
                  type="button"
                  className="press-name"
                  aria-expanded={open === i}
                  onClick={() => setOpen(open === i ? null : i)}
                >
                  {name}
                </button>
                <SmallButton
                  label={t('pads.moveTile', { name })}
                  disabled={i === 0}
                  onClick={() => move(i, i - 1)}
                >
                  <ArrowUpwardRounded />
                </SmallButton>
                <SmallButton
                  label={t('pads.removeTile', { name })}
                  onClick={() => set('Tiles', { tiles: page.tiles.filter((_, at) => at !== i) })}
                >
                  <CloseRounded />
                </SmallButton>
              </div>
              {open === i && (
                <PressFields
                  press={tile.press}
                  onChange={(press) =>
                    set('Tiles', { tiles: page.tiles.map((one, at) => (at === i ? { ...one, press } : one)) })
                  }
                />
              )}
            </li>
          );
        })}
      </ol>
      <Button
        disabled={page.tiles.length >= 60}
        onClick={() => {
          set('Tiles', { tiles: [...page.tiles, { press: newPress(document, 'marker'), label: '' }] });
          setOpen(page.tiles.length);
        }}
      >
        {t('pads.addTile')}
      </Button>
      <h3 className="small-head">{t('pads.faders')}</h3>
      {recordsOf(document, 'channel').map((channel) => (
        <FormControlLabel
          key={channel.id}
          label={channel.name}
          control={
            <Checkbox
              size="small"
              checked={page.channelIds.includes(channel.id)}
              disabled={page.channelIds.length >= 16 && !page.channelIds.includes(channel.id)}
              onChange={(_, on) =>
                set('Faders', {
                  channelIds: on
                    ? [...page.channelIds, channel.id]
                    : page.channelIds.filter((id) => id !== channel.id),
                })
              }
            />
          }
        />
      ))}
    </section>
  );
}
