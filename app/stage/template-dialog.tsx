import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { TEMPLATES, type Template, type TemplatePart } from '~/core/scene/templates';
import { recordsOf, type ShowDocument } from '~/core/show/document';
import { kindOf } from '~/core/show/input-kinds';
import { frameOf, sceneFromTemplate, usedFrames, type TemplateChoice } from '~/core/show/stage-edits';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

/** A first guess of what goes where: each part gets the next input of its kind. */
export function guessedChoice(document: ShowDocument, template: Template): TemplateChoice {
  const inputs = [...recordsOf(document, 'input')];
  const choice: TemplateChoice = {};
  for (const part of template.parts) {
    if (part.type === 'text' || part.type === 'chat') {
      choice[part.id] = { taken: true, inputId: null };
      continue;
    }
    const at = inputs.findIndex((input) => kindOf(input.source).role(input.source) === part.type);
    const [input] = at < 0 ? [] : inputs.splice(at, 1);
    choice[part.id] = { taken: input !== undefined, inputId: input?.id ?? null };
  }
  return choice;
}

/** Starts a scene from a template, with a choice of its parts. */
export function TemplateDialog({
  folder,
  onClose,
  onMade,
}: {
  folder: string;
  onClose: () => void;
  onMade: (sceneId: string) => void;
}) {
  const { t } = useTranslation();
  const { document, edit } = useStage();
  const [template, setTemplate] = useState<Template>(TEMPLATES[0]);
  const [choice, setChoice] = useState<TemplateChoice>({});
  const [open, setOpen] = useState(true);
  const [made, setMade] = useState<string | null>(null);
  const choose = (next: Template) => {
    setTemplate(next);
    setChoice(guessedChoice(document, next));
  };
  const make = () => {
    const name = template.id === 'blank' ? 'New scene' : template.name;
    const records = sceneFromTemplate(document, template, choice, name, folder, () => crypto.randomUUID());
    if (edit(t('layout.addSceneName', { name }), records)) setMade(records[0].id);
    setOpen(false);
  };
  // The dialog holds the focus until it is gone: only then can the new scene's name take it.
  const gone = () => {
    onClose();
    if (made) onMade(made);
  };
  const inputs = recordsOf(document, 'input');
  return (
    <Dialog
      open={open}
      onClose={() => setOpen(false)}
      maxWidth="md"
      fullWidth
      disableRestoreFocus
      slotProps={{ transition: { onExited: gone } }}
    >
      <DialogTitle>{t('layout.newScene')}</DialogTitle>
      <DialogContent>
        <div
          role="radiogroup"
          aria-label={t('layout.template')}
          style={{ display: 'grid', gridTemplateColumns: 'repeat(3, 1fr)', gap: 8 }}
        >
          {TEMPLATES.map((t) => {
            const on = t.id === template.id;
            return (
              <button
                key={t.id}
                type="button"
                role="radio"
                aria-checked={on}
                onClick={() => choose(t)}
                style={{
                  display: 'flex',
                  gap: 12,
                  alignItems: 'center',
                  padding: 10,
                  border: 0,
                  borderRadius: 8,
                  font: 'inherit',
                  color: 'var(--text)',
                  textAlign: 'left',
                  cursor: 'pointer',
                  background: on ? 'color-mix(in srgb, var(--glacier) 16%, var(--raised))' : 'var(--raised)',
                  boxShadow: on ? 'inset 0 0 0 1.5px var(--glacier)' : undefined,
                }}
              >
                <TemplateSketch template={t} document={document} />
                <span>
                  <b style={{ display: 'block', fontSize: 14 }}>{t.name}</b>
                  <span style={{ color: 'var(--quiet)', fontSize: 12.5 }}>{t.says}</span>
                </span>
              </button>
            );
          })}
        </div>
        {template.parts.length > 0 && (
          <div style={{ marginTop: 18 }}>
            {template.parts.map((part) => {
              const { taken, inputId } = choice[part.id] ?? { taken: false, inputId: null };
              const fits = inputs.filter(
                (i) => part.type !== 'background' || kindOf(i.source).role(i.source) === 'background',
              );
              const takesInput = part.type !== 'text' && part.type !== 'chat';
              const set = (change: Partial<TemplateChoice[string]>) =>
                setChoice({ ...choice, [part.id]: { taken, inputId, ...change } });
              return (
                <div key={part.id} style={{ display: 'flex', alignItems: 'center', minHeight: 44, gap: 10 }}>
                  <label style={{ display: 'flex', alignItems: 'center', width: 190, fontSize: 13.5 }}>
                    <Checkbox
                      size="small"
                      checked={taken}
                      disabled={takesInput && inputId === null}
                      onChange={(_, on) => set({ taken: on })}
                    />
                    {part.name}
                  </label>
                  {takesInput && (
                    <TextField
                      select
                      label={t('layout.inputForName', { name: part.name })}
                      value={inputId ?? ''}
                      onChange={(e) => set({ inputId: e.target.value || null, taken: e.target.value !== '' })}
                    >
                      <MenuItem value="">{t('layout.noneYet')}</MenuItem>
                      {fits.map((input) => (
                        <MenuItem key={input.id} value={input.id}>
                          {input.name}
                        </MenuItem>
                      ))}
                    </TextField>
                  )}
                </div>
              );
            })}
          </div>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={() => setOpen(false)}>{t('layout.cancel')}</Button>
        <Button onClick={make} sx={{ color: 'var(--glacier)' }}>
          {t('layout.makeTheScene')}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

const SKETCH_COLOURS: Record<TemplatePart['type'], string> = {
  background: 'var(--line)',
  screen: 'color-mix(in srgb, var(--glacier) 55%, var(--surface))',
  person: 'color-mix(in srgb, var(--larch) 70%, var(--surface))',
  text: 'var(--text)',
  chat: 'var(--quiet)',
};

function TemplateSketch({ template, document }: { template: Template; document: ShowDocument }) {
  return (
    <span style={{ display: 'flex', gap: 4, flexShrink: 0 }} aria-hidden>
      {usedFrames(document).map((frame) => {
        const { width, height } = frameOf(document, frame);
        const tall = 46;
        return (
          <svg
            key={frame}
            viewBox="0 0 1 1"
            preserveAspectRatio="none"
            width={(tall * width) / height}
            height={tall}
            style={{ background: 'var(--ground)', borderRadius: 3 }}
          >
            {template.parts.map((part) => {
              const share = part[frame];
              if (!share) return null;
              const [x, y, w, h] = share;
              return <rect key={part.id} x={x} y={y} width={w} height={h} fill={SKETCH_COLOURS[part.type]} />;
            })}
          </svg>
        );
      })}
    </span>
  );
}
