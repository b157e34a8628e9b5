import AddRounded from '@mui/icons-material/AddRounded';
import MoreVertRounded from '@mui/icons-material/MoreVertRounded';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { memo, useState } from 'react';
import type { RundownTimes } from '~/core/rundown/rundown';
import { segmentsOf } from '~/core/rundown/rundown';
import { lengthText } from '~/core/rundown/length-text';
import { rundownCsv } from '~/core/rundown/rundown-csv';
import { fromScenes, inserted, newRundown, newSegment, rundownCopy } from '~/core/rundown/rundown-edits';
import { findRecord, recordsOf } from '~/core/show/document';
import type { RundownRecord } from '~/core/show/rundown-records';
import { RenameField } from '../studio/rename-field';
import { SmallButton } from '../studio/small-button';
import { useDesk, useRecords, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { MakeUpDialog } from './make-up-dialog';
import { OverText } from './over-text';
import { PasteDialog } from './paste-dialog';
import { clockText } from './use-times';

const newId = () => crypto.randomUUID();

/** Above the rundown: which one, how long, when it ends, and what adds to it. */
export const RundownBar = memo(function RundownBar({
  rundown,
  times,
  chosenId,
  onChoose,
  onRundown,
}: {
  rundown: RundownRecord;
  times: RundownTimes;
  chosenId: string | null;
  onChoose: (segmentId: string | null) => void;
  onRundown: (id: string) => void;
}) {
  const { store, showId } = useStudio();
  const runs = useDesk((now) => now.programme.rundown !== null);
  const { t } = useTranslation();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [dialog, setDialog] = useState<'makeUp' | 'paste' | 'rename' | null>(null);
  const rundowns = useRecords('rundown');
  const close = () => setAnchor(null);
  const addSegment = () => {
    const after = findRecord(store.document(), 'segment', chosenId);
    const scene = recordsOf(store.document(), 'scene')[0] ?? null;
    const segment = newSegment(rundown, scene, t('plan.newSegment'), newId);
    const at = after?.rundownId === rundown.id ? after.id : null;
    store.edit('Add segment', inserted(store.document(), rundown.id, [segment], at));
    onChoose(segment.id);
  };
  const addRundown = () => {
    close();
    const added = newRundown(store.document(), showId, t('plan.firstName'), newId);
    store.edit('Add rundown', [added]);
    onRundown(added.id);
  };
  const saveTable = () => {
    close();
    const url = URL.createObjectURL(
      new Blob([rundownCsv(store.document(), segmentsOf(store.document(), rundown.id))], {
        type: 'text/csv',
      }),
    );
    const link = document.createElement('a');
    link.href = url;
    link.download = `${rundown.name}.csv`;
    link.click();
    URL.revokeObjectURL(url);
  };
  return (
    <div className="rundown-bar">
      {dialog === 'rename' ? (
        <RenameField
          name={rundown.name}
          label={t('plan.rename')}
          onDone={(name) => {
            setDialog(null);
            if (name) store.edit('Rename rundown', [{ ...rundown, name }]);
          }}
        />
      ) : rundowns.length > 1 ? (
        <TextField
          select
          value={rundown.id}
          onChange={({ target }) => onRundown(target.value)}
          slotProps={{ htmlInput: { 'aria-label': t('plan.rundown') } }}
          fullWidth={false}
          className="rundown-choice"
        >
          {rundowns.map(({ id, name }) => (
            <MenuItem key={id} value={id}>
              {name}
            </MenuItem>
          ))}
        </TextField>
      ) : (
        <h2 className="rundown-name" title={rundown.name}>
          {rundown.name}
        </h2>
      )}
      {/* While it runs, how it stands takes the place of how much it is. */}
      {times.overSeconds === null && (
        <span className="quiet">{t('plan.segments', { count: times.segments.length })}</span>
      )}
      <span className="figure">{t('plan.planned', { time: lengthText(times.plannedSeconds) })}</span>
      <span className="figure quiet">{t('plan.ends', { time: clockText(times.endsMs) })}</span>
      <OverText seconds={times.overSeconds} />
      <span className="room" />
      <TextField
        type="time"
        label={t('plan.startsAt')}
        value={rundown.startsAt}
        onChange={({ target }) =>
          store.edit('Start of the rundown', [{ ...rundown, startsAt: target.value.slice(0, 5) }])
        }
        slotProps={{ inputLabel: { shrink: true } }}
        fullWidth={false}
        className="starts-at"
      />
      <Button startIcon={<AddRounded />} onClick={addSegment}>
        {t('plan.add')}
      </Button>
      <Button onClick={() => setDialog('makeUp')} disabled={!runs && times.overSeconds === null}>
        {t('plan.makeUp')}
      </Button>
      <SmallButton label={t('plan.menu', { name: rundown.name })} onClick={(e) => setAnchor(e.currentTarget)}>
        <MoreVertRounded />
      </SmallButton>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={close}>
        <MenuItem
          title={t('plan.fromScenesHint')}
          onClick={() => {
            close();
            store.edit('Segments from scenes', fromScenes(store.document(), rundown, newId));
          }}
        >
          {t('plan.fromScenes')}
        </MenuItem>
        <MenuItem
          onClick={() => {
            close();
            setDialog('paste');
          }}
        >
          {t('plan.pasteIn')}
        </MenuItem>
        <MenuItem onClick={saveTable}>{t('plan.copyOut')}</MenuItem>
        <Divider />
        <MenuItem
          onClick={() => {
            close();
            setDialog('rename');
          }}
        >
          {t('plan.rename')}
        </MenuItem>
        <MenuItem
          onClick={() => {
            close();
            const copy = rundownCopy(store.document(), rundown, newId);
            store.edit(`Duplicate ${rundown.name}`, copy);
            onRundown(copy[0].id);
          }}
        >
          {t('plan.duplicate')}
        </MenuItem>
        <MenuItem onClick={addRundown}>{t('plan.another')}</MenuItem>
        <MenuItem
          onClick={() => {
            close();
            store.edit(`Remove ${rundown.name}`, [], [rundown.id]);
          }}
        >
          {t('plan.removeRundown')}
        </MenuItem>
      </Menu>
      {dialog === 'makeUp' && <MakeUpDialog times={times} onClose={() => setDialog(null)} />}
      {dialog === 'paste' && <PasteDialog rundown={rundown} onClose={() => setDialog(null)} />}
    </div>
  );
});
