import AddRounded from '@mui/icons-material/AddRounded';
import Button from '@mui/material/Button';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useRef, useState } from 'react';
import { messageOf } from '~/core/fault';
import { recordsOf } from '~/core/show/document';
import { kindOf } from '~/core/show/input-kinds';
import { freeName } from '~/core/show/stage-edits';
import { PLAIN_CHANNEL, type ChannelRecord, type ComputerSoundSource } from '~/core/show/records';
import { explainDeviceError } from '~/engine/inputs/device-error';
import type { ComputerSounds } from '~/server/sound/computer-sound';
import { bringIn } from '../stage/upload-file';
import { channelOffers } from './channel-parts';
import { HiddenFile } from '../studio/hidden-file';
import { useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';

/** Programs first: whoever wants one of them does not want all that sounds. */
function offeredSounds(sounds: ComputerSounds | null): ComputerSoundSource[] {
  const of = (kind: ComputerSoundSource['of'], list: ComputerSounds['outputs']) =>
    list.map((sound): ComputerSoundSource => ({ type: 'computer', of: kind, ...sound }));
  return sounds ? [...of('program', sounds.programs), ...of('output', sounds.outputs)] : [];
}

/** A new channel: a microphone, the sound of an input, music, or the effect buttons. */
export function AddChannel({ onAdded }: { onAdded: (id: string) => void }) {
  const { store, showId, say } = useStudio();
  const document = useDocument();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [devices, setDevices] = useState<MediaDeviceInfo[] | null>(null);
  const [sounds, setSounds] = useState<ComputerSounds | null>(null);
  const { t } = useTranslation();
  const file = useRef<HTMLInputElement>(null);
  const channels = recordsOf(document, 'channel');
  const inputs = recordsOf(document, 'input').filter(
    (i) =>
      kindOf(i.source).sound !== 'never' &&
      !channels.some((c) => c.source.type === 'input' && c.source.inputId === i.id),
  );
  const add = (name: string, source: ChannelRecord['source'], more: Partial<ChannelRecord> = {}) => {
    setAnchor(null);
    const id = crypto.randomUUID();
    const free = freeName(
      channels.map((c) => c.name),
      name,
    );
    store.edit(t('sound.addFree', { free }), [
      {
        kind: 'channel',
        id,
        showId,
        name: free,
        position: (channels.at(-1)?.position ?? -1) + 1,
        source,
        ...PLAIN_CHANNEL,
        gainDb: 0,
        ...more,
      },
    ]);
    onAdded(id);
  };
  const open = async (target: HTMLElement) => {
    setAnchor(target);
    // Programs come and go: it is asked anew each time.
    fetch(`/show/${showId}/computer-sounds`)
      .then((response) => response.json() as Promise<ComputerSounds>)
      .then(setSounds)
      .catch(() => setSounds({ problem: t('home.notReachable'), outputs: [], programs: [] }));
    try {
      // Without a permission devices have no names.
      const probe = await navigator.mediaDevices.getUserMedia({ audio: true });
      for (const track of probe.getTracks()) track.stop();
      setDevices((await navigator.mediaDevices.enumerateDevices()).filter((d) => d.kind === 'audioinput'));
    } catch (error) {
      setDevices([]);
      say(explainDeviceError(error, 'The microphone'));
    }
  };
  const addMusic = async (files: readonly File[]) => {
    const listed = [];
    for (const chosen of files)
      try {
        say(t('sound.bringingInName', { name: chosen.name }));
        const { asset } = await bringIn(`/show/${showId}/assets`, chosen, () => {});
        listed.push({ assetId: asset.id, name: chosen.name.replace(/\.\w+$/, '').slice(0, 120) || 'Music' });
      } catch (error) {
        say(messageOf(error));
      }
    if (listed.length > 0)
      add(
        'Music',
        { type: 'music', files: listed, order: 'listed', loop: true, playing: true },
        { gainDb: -16, fadeSeconds: 1.5, colour: 'moss' },
      );
  };
  return (
    <>
      <Button startIcon={<AddRounded />} size="small" onClick={(e) => void open(e.currentTarget)}>
        {t('sound.addChannel')}
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <ListSubheader>{t('sound.microphone')}</ListSubheader>
        {devices === null && <MenuItem disabled>{t('sound.looking')}</MenuItem>}
        {devices?.length === 0 && <MenuItem disabled>{t('sound.noneWasAllowedOrFound')}</MenuItem>}
        {devices?.map((device, i) => {
          const name = device.label.replace(/ \([0-9a-f:]+\)$/, '') || `Microphone ${i + 1}`;
          return (
            <MenuItem
              key={device.deviceId}
              onClick={() =>
                add(
                  name,
                  { type: 'microphone', deviceId: device.deviceId, deviceLabel: name, processed: false },
                  { role: 'voice', colour: 'glacier' },
                )
              }
            >
              {name}
            </MenuItem>
          );
        })}
        <ListSubheader>{t('computerSound.title')}</ListSubheader>
        {sounds === null && <MenuItem disabled>{t('computerSound.looking')}</MenuItem>}
        {sounds?.problem && <MenuItem disabled>{t('computerSound.none', { why: sounds.problem })}</MenuItem>}
        {offeredSounds(sounds).map((source) => {
          const isOutput = source.of === 'output';
          const words = t(isOutput ? 'computerSound.output' : 'computerSound.program', {
            name: source.label,
          });
          return (
            <MenuItem
              key={`${source.of} ${source.name}`}
              aria-label={words}
              onClick={() => add(source.label.slice(0, 60), source, { gainDb: -6 })}
            >
              <span>
                {words}
                {isOutput && <span className="menu-hint">{t('computerSound.outputHint')}</span>}
              </span>
            </MenuItem>
          );
        })}
        {inputs.length > 0 && <ListSubheader>{t('sound.soundOfAnInput')}</ListSubheader>}
        {inputs.map((input) => (
          <MenuItem
            key={input.id}
            onClick={() =>
              add(
                input.name,
                { type: 'input', inputId: input.id },
                { heard: 'with-picture', pictureInputId: input.id, gainDb: -6 },
              )
            }
          >
            {input.name}
          </MenuItem>
        ))}
        <ListSubheader>{t('sound.more')}</ListSubheader>
        <MenuItem onClick={() => file.current?.click()}>{t('sound.musicFromFiles')}</MenuItem>
        {channelOffers(channels).map(({ words, make }) => (
          <MenuItem
            key={words(t)}
            onClick={() => {
              const { name, source, ...more } = make(t);
              add(name, source, more);
            }}
          >
            {words(t)}
          </MenuItem>
        ))}
      </Menu>
      <HiddenFile
        of={file}
        label={t('sound.musicFiles')}
        accept="audio/*"
        multiple
        onFiles={(files) => {
          setAnchor(null);
          void addMusic(files);
        }}
      />
    </>
  );
}
