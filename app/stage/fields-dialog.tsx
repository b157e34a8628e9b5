import AddRounded from '@mui/icons-material/AddRounded';
import DeleteOutlineRounded from '@mui/icons-material/DeleteOutlineRounded';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { audienceFieldNames } from '~/core/audience/fields';
import { recordsOf } from '~/core/show/document';
import { SmallButton } from '../studio/small-button';
import { useStage } from './stage-context';

const GOOD_NAME = /^[\w-]{1,40}$/;

/** Opens the words that are set once and used in any text. */
export function FieldsButton() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button sx={{ mt: 1 }} onClick={() => setOpen(true)}>
        Fields…
      </Button>
      {open && <FieldsDialog onClose={() => setOpen(false)} />}
    </>
  );
}

function FieldsDialog({ onClose }: { onClose: () => void }) {
  const { document, edit } = useStage();
  const show = recordsOf(document, 'show')[0];
  const [name, setName] = useState('');
  const taken = Object.hasOwn(show.fields, name);
  const good = GOOD_NAME.test(name) && !taken;
  const set = (what: string, fields: Record<string, string>) => edit(what, [{ ...show, fields }]);
  const without = (key: string) => Object.fromEntries(Object.entries(show.fields).filter(([k]) => k !== key));
  const add = () => {
    if (!good) return;
    set(`Add field ${name}`, { ...show.fields, [name]: '' });
    setName('');
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Fields</DialogTitle>
      <DialogContent>
        <p style={{ color: 'var(--quiet)', marginTop: 0 }}>
          {'Words set once. Write {{name}} in any text of any scene to use one.'}
        </p>
        {Object.entries(show.fields).map(([key, value]) => (
          <div key={key} style={{ display: 'flex', gap: 8, alignItems: 'center', margin: '10px 0' }}>
            <TextField
              label={key}
              defaultValue={value}
              key={`${key}${value}`}
              onBlur={(e) =>
                e.target.value !== value &&
                set(`Field ${key}`, { ...show.fields, [key]: e.target.value.slice(0, 1000) })
              }
              onKeyDown={(e) => {
                e.stopPropagation();
                if (e.key === 'Enter') (e.target as HTMLElement).blur();
              }}
            />
            <SmallButton
              label={`Remove field ${key}`}
              onClick={() => set(`Remove field ${key}`, without(key))}
            >
              <DeleteOutlineRounded />
            </SmallButton>
          </div>
        ))}
        <p style={{ color: 'var(--quiet)', fontSize: 12.5, lineHeight: 1.6, margin: '14px 0 0' }}>
          {'Kept up by viewers: '}
          {audienceFieldNames(recordsOf(document, 'goal'))
            .map((field) => `{{${field}}}`)
            .join(' ')}
        </p>
        <div style={{ display: 'flex', gap: 8, alignItems: 'flex-start', marginTop: 16 }}>
          <TextField
            label="New field"
            value={name}
            error={name !== '' && !good}
            helperText={
              name === '' || good
                ? ' '
                : taken
                  ? 'There is one with this name already'
                  : 'Letters, figures, - and _ only, 40 at most'
            }
            onChange={(e) => setName(e.target.value)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Enter') add();
            }}
          />
          <Button startIcon={<AddRounded />} disabled={!good} onClick={add} sx={{ height: 36 }}>
            Add
          </Button>
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Done</Button>
      </DialogActions>
    </Dialog>
  );
}
