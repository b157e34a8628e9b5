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
import { listFields, type ListedField } from '~/core/scene/field-uses';
import { recordsOf } from '~/core/show/document';
import type { AnyRecord } from '~/core/show/records';
import { SmallButton } from '../studio/small-button';
import { useTranslation } from '../words/words';
import { useDocument, useStudio } from '../studio/studio-context';

const GOOD_NAME = /^[\w-]{1,40}$/;

/** Opens the words that are set once and used in any text. */
export function FieldsButton() {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button sx={{ mt: 1 }} onClick={() => setOpen(true)}>
        {t('layout.fields')}
      </Button>
      {open && <FieldsDialog onClose={() => setOpen(false)} />}
    </>
  );
}

/** All words of the show, where each is used, missing ones first. */
export function FieldsDialog({ onClose }: { onClose: () => void }) {
  const { t } = useTranslation();
  const { store } = useStudio();
  const document = useDocument();
  const edit = (name: string, put: AnyRecord[]) => store.edit(name, put);
  const show = recordsOf(document, 'show')[0];
  const [name, setName] = useState('');
  const taken = Object.hasOwn(show.fields, name);
  const good = GOOD_NAME.test(name) && !taken;
  const set = (what: string, fields: Record<string, string>) => edit(what, [{ ...show, fields }]);
  const without = (key: string) => Object.fromEntries(Object.entries(show.fields).filter(([k]) => k !== key));
  const add = () => {
    if (!good) return;
    set(t('layout.addFieldName', { name }), { ...show.fields, [name]: '' });
    setName('');
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>{t('layout.fields2')}</DialogTitle>
      <DialogContent>
        <p style={{ color: 'var(--quiet)', marginTop: 0 }}>
          {'Words set once. Write {{name}} in any text of any scene to use one.'}
        </p>
        {listFields(document).map(({ name: key, value, uses }) => (
          <FieldRow
            key={key}
            name={key}
            value={value}
            uses={uses}
            onSet={(words) =>
              set(t('layout.fieldKey', { key }), { ...show.fields, [key]: words.slice(0, 1000) })
            }
            onRemove={() => set(t('layout.removeFieldKey', { key }), without(key))}
          />
        ))}
        <p style={{ color: 'var(--quiet)', fontSize: 12.5, lineHeight: 1.6, margin: '14px 0 0' }}>
          {t('layout.keptUpByViewers')}
          {audienceFieldNames(recordsOf(document, 'goal'))
            .map((field) => `{{${field}}}`)
            .join(' ')}
        </p>
        <div style={{ display: 'flex', gap: 8, alignItems: 'flex-start', marginTop: 16 }}>
          <TextField
            label={t('layout.newField')}
            value={name}
            error={name !== '' && !good}
            helperText={
              name === '' || good
                ? ' '
                : taken
                  ? t('layout.thereIsOneWithThis')
                  : t('layout.lettersFiguresAndOnly40')
            }
            onChange={(e) => setName(e.target.value)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Enter') add();
            }}
          />
          <Button startIcon={<AddRounded />} disabled={!good} onClick={add} sx={{ height: 36 }}>
            {t('layout.add')}
          </Button>
        </div>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{t('layout.done')}</Button>
      </DialogActions>
    </Dialog>
  );
}

/** One word: what it says, changed where it stands, and where it is used. */
function FieldRow({
  name,
  value,
  uses,
  onSet,
  onRemove,
}: ListedField & { onSet: (words: string) => void; onRemove: () => void }) {
  const { t } = useTranslation();
  const list = new Intl.ListFormat('en');
  const where = uses.length > 0 ? t('fields.usedIn', { places: list.format(uses) }) : t('fields.unused');
  return (
    <div style={{ display: 'flex', gap: 8, alignItems: 'flex-start', margin: '10px 0' }}>
      <TextField
        label={name}
        defaultValue={value ?? ''}
        key={value ?? 'missing'}
        error={value === null}
        helperText={value === null ? `${t('fields.missing')} ${where}` : where}
        // A name with a point in it is kept up by events, and cannot be a field of the show.
        disabled={value === null && !GOOD_NAME.test(name)}
        onBlur={(e) => e.target.value !== (value ?? '') && onSet(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') (e.target as HTMLElement).blur();
        }}
        sx={{ flex: 1 }}
      />
      {value !== null && (
        <SmallButton label={t('fields.remove', { name })} onClick={onRemove}>
          <DeleteOutlineRounded />
        </SmallButton>
      )}
    </div>
  );
}
