import DeleteOutlineRounded from '@mui/icons-material/DeleteOutlineRounded';
import { useEffect, useRef, useState } from 'react';
import { recordsOf } from '~/core/show/document';
import { kindOf } from '~/core/show/input-kinds';
import { RenameField } from '../studio/rename-field';
import { SmallButton } from '../studio/small-button';
import { useDesk } from '../studio/studio-context';
import { useStage } from './stage-context';
import { useTranslation } from '../words/words';

/** The show's inputs: each named and adjusted once, with how it does and how many layers show it. */
export function InputList() {
  const { t } = useTranslation();
  const { document, inputId, setInputId, edit } = useStage();
  const states = useDesk((now) => now.inputs);
  const [renaming, setRenaming] = useState<string | null>(null);
  const inputs = recordsOf(document, 'input');
  const row = useRef<HTMLDivElement>(null);
  // One that was just added, or chosen elsewhere, may stand below what is seen of the list.
  useEffect(() => {
    row.current?.scrollIntoView({ block: 'nearest' });
  }, [inputId]);
  const uses = new Map<string, number>();
  for (const { content } of recordsOf(document, 'layer'))
    if (content.type === 'input') uses.set(content.inputId, (uses.get(content.inputId) ?? 0) + 1);
  if (inputs.length === 0)
    return (
      <p style={{ color: 'var(--quiet)', margin: '4px 0 10px', lineHeight: 1.45 }}>
        {t('layout.camerasScreensFilesNoneYet')}
      </p>
    );
  return (
    <>
      {inputs.map((input) => {
        const state = states.find((s) => s.inputId === input.id);
        const count = uses.get(input.id) ?? 0;
        const chosen = input.id === inputId;
        const failed = state?.state === 'failed';
        return (
          <div
            key={input.id}
            ref={chosen ? row : undefined}
            data-testid={`input-${input.name}`}
            style={{
              display: 'flex',
              alignItems: 'center',
              minHeight: 38,
              marginBottom: 3,
              borderRadius: 6,
              paddingLeft: 10,
              background: chosen ? 'color-mix(in srgb, var(--glacier) 16%, var(--raised))' : 'var(--raised)',
              boxShadow: chosen ? 'inset 0 0 0 1.5px var(--glacier)' : undefined,
            }}
          >
            {renaming === input.id ? (
              <RenameField
                name={input.name}
                label={t('layout.nameOfTheInput')}
                onDone={(name) => {
                  setRenaming(null);
                  if (name) edit(t('layout.renameInput'), [{ ...input, name }]);
                }}
              />
            ) : (
              <button
                type="button"
                aria-pressed={chosen}
                title={t('layout.nameDoubleClickOrF2', { name: input.name })}
                onClick={() => setInputId(input.id)}
                onDoubleClick={() => setRenaming(input.id)}
                onKeyDown={(e) => e.key === 'F2' && setRenaming(input.id)}
                style={{
                  flex: 1,
                  minWidth: 0,
                  textAlign: 'left',
                  background: 'none',
                  border: 0,
                  color: 'inherit',
                  font: 'inherit',
                  padding: '3px 0',
                  cursor: 'pointer',
                }}
              >
                <span
                  style={{
                    display: 'block',
                    fontSize: 13.5,
                    overflow: 'hidden',
                    textOverflow: 'ellipsis',
                    whiteSpace: 'nowrap',
                  }}
                >
                  {input.name}
                </span>
                <span
                  style={{
                    display: 'block',
                    fontSize: 11.5,
                    color: failed ? 'var(--rose)' : 'var(--quiet)',
                    overflow: 'hidden',
                    textOverflow: 'ellipsis',
                    whiteSpace: 'nowrap',
                  }}
                  title={state?.message}
                >
                  {failed
                    ? state.message
                    : `${kindOf(input.source).name} · ${count === 0 ? 'not used' : count === 1 ? 'in 1 layer' : `in ${count} layers`}${state?.state === 'asleep' ? ' · asleep' : ''}`}
                </span>
              </button>
            )}
            <SmallButton
              label={t('layout.removeName', { name: input.name })}
              title={
                count > 0
                  ? t('layout.removeNameAndTheNumber', { name: input.name, number: count })
                  : undefined
              }
              onClick={() => edit(t('layout.removeName', { name: input.name }), [], [input.id])}
            >
              <DeleteOutlineRounded />
            </SmallButton>
          </div>
        );
      })}
    </>
  );
}
