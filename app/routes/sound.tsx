import MicRounded from '@mui/icons-material/MicRounded';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import { recordsOf } from '~/core/show/document';
import { explainDeviceError } from '~/engine/inputs/device-error';
import { ChannelRow, ROW_COLUMNS } from '../sound/channel-row';
import { trackShare } from '../sound/meter-track';
import { ProgrammePanel } from '../sound/programme-panel';
import { Panel } from '../studio/panel';
import { useDesk, useDocument, useStudio } from '../studio/studio-context';

const SCALE = [-60, -48, -36, -24, -12, 0] as const;

export default function Sound() {
  const document = useDocument();
  const { sound } = useDesk();
  const channels = recordsOf(document, 'channel');
  return (
    <div style={{ display: 'grid', gridTemplateRows: 'minmax(0, 1fr) auto', gap: 12, height: '100%' }}>
      <Panel label="Channels" title="Channels" aside={<AddMicrophone />}>
        {sound.state !== 'running' && (
          <div
            role="status"
            style={{
              background: 'var(--raised)',
              borderLeft: '4px solid var(--larch)',
              borderRadius: 6,
              padding: '8px 12px',
              marginBottom: 8,
            }}
          >
            {sound.state === 'failed'
              ? sound.message
              : 'The browser lets sound start only after a click or a key in this page.'}
            {sound.state === 'waiting' && <Button sx={{ ml: 2 }}>Start sound</Button>}
          </div>
        )}
        <div
          aria-hidden
          style={{
            display: 'grid',
            gridTemplateColumns: ROW_COLUMNS,
            gap: 16,
            padding: '0 8px',
            color: 'var(--quiet)',
            fontSize: 11.5,
          }}
        >
          <span />
          <span className="figure" style={{ position: 'relative', height: 16 }}>
            {SCALE.map((db) => (
              <span
                key={db}
                style={{
                  position: 'absolute',
                  left: `${trackShare(db) * 100}%`,
                  transform: db === -60 ? undefined : 'translateX(-50%)',
                }}
              >
                {String(db).replace('-', '−')}
              </span>
            ))}
          </span>
          <span />
          <span style={{ textAlign: 'right', whiteSpace: 'nowrap' }}>voice belongs in the bracket</span>
        </div>
        {channels.length === 0 && (
          <p style={{ color: 'var(--quiet)', padding: 8 }}>
            No channel yet. Add a microphone; video files and shared screens bring theirs along.
          </p>
        )}
        {channels.map((channel) => (
          <ChannelRow key={channel.id} channel={channel} />
        ))}
      </Panel>
      <Panel label="Programme meters">
        <ProgrammePanel />
      </Panel>
    </div>
  );
}

function AddMicrophone() {
  const { store, showId, say } = useStudio();
  const document = useDocument();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [devices, setDevices] = useState<MediaDeviceInfo[]>([]);
  const open = async (target: HTMLElement) => {
    try {
      const probe = await navigator.mediaDevices.getUserMedia({ audio: true });
      for (const track of probe.getTracks()) track.stop();
      setDevices((await navigator.mediaDevices.enumerateDevices()).filter((d) => d.kind === 'audioinput'));
      setAnchor(target);
    } catch (error) {
      say(explainDeviceError(error, 'The microphone'));
    }
  };
  const add = (device: MediaDeviceInfo) => {
    setAnchor(null);
    const name = device.label.replace(/ \([0-9a-f:]+\)$/, '') || 'Microphone';
    store.edit(`Add ${name}`, [
      {
        kind: 'channel',
        id: crypto.randomUUID(),
        showId,
        name,
        position: recordsOf(document, 'channel').length,
        source: { type: 'microphone', deviceId: device.deviceId, deviceLabel: name },
        gainDb: 0,
        muted: false,
        heard: 'always',
        pictureInputId: null,
      },
    ]);
  };
  return (
    <>
      <Button startIcon={<MicRounded />} onClick={(e) => void open(e.currentTarget)}>
        Add microphone
      </Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {devices.map((device, i) => (
          <MenuItem key={device.deviceId} onClick={() => add(device)}>
            {device.label || `Microphone ${i + 1}`}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
