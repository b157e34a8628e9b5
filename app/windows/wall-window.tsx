import { useState } from 'react';
import { stopOf } from '~/core/rundown/rundown';
import { findRecord, recordsOf } from '~/core/show/document';
import type { ChannelRecord, FrameName } from '~/core/show/records';
import { MeterTrack } from '../sound/meter-track';
import { useStanding } from '../sound/use-standing';
import { LiveView } from '../studio/live-view';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { toggleFull } from './clean-window';
import { Clock } from './peek-window';
import {
  firstLayout,
  MAX_TILES,
  savedLayouts,
  saveLayouts,
  type WallLayout,
  type WallTile,
} from './wall-layouts';

const keyOf = (tile: WallTile): string => JSON.stringify(tile);

/** Many live pictures at once, chosen by hand: a click prepares a scene, a double click takes it. */
export function WallWindow({ opened }: { opened: Window }) {
  const { showId } = useStudio();
  const document = useDocument();
  const { t } = useTranslation();
  const [layouts, setLayouts] = useState<WallLayout[]>(() => {
    const saved = savedLayouts(showId);
    const scenes = recordsOf(document, 'scene').map(({ id }) => id);
    return saved.length > 0 ? saved : [firstLayout(t('windows.firstWall'), scenes)];
  });
  const [at, setAt] = useState(0);
  const [choosing, setChoosing] = useState(false);
  const layout = layouts[Math.min(at, layouts.length - 1)];
  const keep = (next: WallLayout[]) => {
    setLayouts(next);
    saveLayouts(showId, next);
  };
  const set = (part: Partial<WallLayout>) =>
    keep(layouts.map((one) => (one === layout ? { ...one, ...part } : one)));
  const add = () => {
    keep([...layouts, { ...layout, name: t('windows.wallName', { n: layouts.length + 1 }) }]);
    setAt(layouts.length);
  };
  return (
    <div className="wall">
      <div className="wall-bar">
        <select
          aria-label={t('windows.layout')}
          value={at}
          onChange={({ target }) => setAt(Number(target.value))}
        >
          {layouts.map(({ name }, i) => (
            <option key={i} value={i}>
              {name}
            </option>
          ))}
        </select>
        <input
          aria-label={t('windows.layoutName')}
          value={layout.name}
          maxLength={60}
          onChange={({ target }) => set({ name: target.value })}
        />
        <button type="button" onClick={add}>
          {t('windows.saveAs')}
        </button>
        {layouts.length > 1 && (
          <button
            type="button"
            onClick={() => {
              keep(layouts.filter((one) => one !== layout));
              setAt(0);
            }}
          >
            {t('windows.removeLayout')}
          </button>
        )}
        <span className="room" />
        <label>
          {t('windows.columns')}
          <input
            type="number"
            min={1}
            max={8}
            value={layout.columns}
            onChange={({ target }) =>
              set({ columns: Math.min(8, Math.max(1, Math.round(Number(target.value)) || 1)) })
            }
          />
        </label>
        <button
          type="button"
          aria-pressed={layout.safeAreas}
          onClick={() => set({ safeAreas: !layout.safeAreas })}
        >
          {t('windows.safeAreas')}
        </button>
        <button type="button" aria-expanded={choosing} onClick={() => setChoosing(!choosing)}>
          {t('windows.choose')}
        </button>
        <button type="button" onClick={() => void toggleFull(opened)}>
          {t('windows.fullScreen')}
        </button>
      </div>
      {choosing && <Chooser layout={layout} onChange={(tiles) => set({ tiles })} />}
      <div
        className="wall-tiles"
        style={{ gridTemplateColumns: `repeat(${layout.columns}, minmax(0, 1fr))` }}
      >
        {layout.tiles.map((tile) => (
          <Tile key={keyOf(tile)} tile={tile} safeAreas={layout.safeAreas} />
        ))}
      </div>
    </div>
  );
}

/** Everything that can stand on a wall. */
function Chooser({ layout, onChange }: { layout: WallLayout; onChange: (tiles: WallTile[]) => void }) {
  const document = useDocument();
  const { t } = useTranslation();
  const { frames } = recordsOf(document, 'show')[0];
  const used = (['wide', 'tall'] as const).filter((frame) => frames[frame].used);
  const named = (frame: FrameName, name: string) =>
    used.length > 1 ? `${name}, ${t(`windows.${frame}`)}` : name;
  const all: [WallTile, string][] = [
    ...used.map((frame): [WallTile, string] => [{ type: 'onAir', frame }, named(frame, t('air.onAir'))]),
    ...used.map((frame): [WallTile, string] => [{ type: 'next', frame }, named(frame, t('air.next'))]),
    [{ type: 'clock' }, t('windows.clock')],
    [{ type: 'levels' }, t('windows.levels')],
    ...recordsOf(document, 'scene').flatMap(({ id, name }) =>
      used.map((frame): [WallTile, string] => [{ type: 'scene', frame, sceneId: id }, named(frame, name)]),
    ),
    ...recordsOf(document, 'input').map(({ id, name }): [WallTile, string] => [
      { type: 'input', inputId: id },
      name,
    ]),
  ];
  const there = new Set(layout.tiles.map(keyOf));
  return (
    <fieldset className="wall-chooser">
      <legend>{t('windows.choose')}</legend>
      {all.map(([tile, name]) => {
        const key = keyOf(tile);
        const on = there.has(key);
        return (
          <label key={key}>
            <input
              type="checkbox"
              checked={on}
              disabled={!on && layout.tiles.length >= MAX_TILES}
              onChange={() =>
                onChange(on ? layout.tiles.filter((one) => keyOf(one) !== key) : [...layout.tiles, tile])
              }
            />
            {name}
          </label>
        );
      })}
    </fieldset>
  );
}

function Tile({ tile, safeAreas }: { tile: WallTile; safeAreas: boolean }) {
  const { control } = useStudio();
  const document = useDocument();
  const onAirSceneId = useDesk((now) => now.onAirSceneId);
  useDesk((now) => now.programme);
  const { t } = useTranslation();
  if (tile.type === 'clock')
    return (
      <div className="wall-tile figures">
        <Clock />
      </div>
    );
  if (tile.type === 'levels') return <Levels />;
  if (tile.type === 'input') {
    const input = findRecord(document, 'input', tile.inputId);
    if (!input) return null;
    return (
      <figure className="wall-tile">
        <div className="wall-picture">
          <LiveView subject={{ type: 'input', frame: 'wide', inputId: input.id }} label={input.name} />
        </div>
        <figcaption>{input.name}</figcaption>
      </figure>
    );
  }
  const next = control.next();
  const nextStop = next && stopOf(next);
  const stop =
    tile.type === 'next' ? nextStop : tile.type === 'scene' ? { sceneId: tile.sceneId, poseId: null } : null;
  const scene = findRecord(document, 'scene', tile.type === 'onAir' ? onAirSceneId : (stop?.sceneId ?? null));
  if (tile.type === 'scene' && !scene) return null;
  const tally =
    tile.type === 'onAir' || scene?.id === onAirSceneId
      ? 'on'
      : tile.type === 'next' || scene?.id === nextStop?.sceneId
        ? 'next'
        : undefined;
  const { width, height } = recordsOf(document, 'show')[0].frames[tile.frame];
  const name = tile.type === 'onAir' ? t('air.onAir') : tile.type === 'next' ? t('air.next') : scene!.name;
  const words = tile.type === 'scene' ? '' : (scene?.name ?? '');
  const style = { aspectRatio: `${width} / ${height}` };
  const picture = (
    <>
      {tile.type === 'onAir' ? (
        <LiveView subject={{ type: 'onAir', frame: tile.frame }} label="" />
      ) : stop ? (
        <LiveView subject={{ type: 'scene', frame: tile.frame, ...stop }} label="" />
      ) : null}
      {safeAreas && <span className="wall-safe" data-tall={height > width} />}
    </>
  );
  return (
    <figure className="wall-tile" data-tally={tally}>
      {tile.type === 'scene' ? (
        <button
          type="button"
          className="wall-picture"
          style={style}
          aria-label={name}
          onClick={() => void control.prepare(stop)}
          onDoubleClick={() => control.scene(tile.sceneId)}
        >
          {picture}
        </button>
      ) : (
        <div className="wall-picture" style={style}>
          {picture}
        </div>
      )}
      <figcaption>
        {name} <small>{words}</small>
      </figcaption>
    </figure>
  );
}

function Levels() {
  const channels = recordsOf(useDocument(), 'channel');
  return (
    <div className="wall-tile wall-levels">
      {channels.slice(0, 8).map((channel) => (
        <Level key={channel.id} channel={channel} />
      ))}
    </div>
  );
}

function Level({ channel }: { channel: ChannelRecord }) {
  const { desk } = useStudio();
  const { gainDb, muted } = useStanding(channel);
  return (
    <div className="wall-level">
      <span className="one-line">{channel.name}</span>
      <MeterTrack
        aside
        name={channel.name}
        read={() => desk.readMeter(channel.id)}
        gainDb={gainDb}
        muted={muted}
      />
    </div>
  );
}
