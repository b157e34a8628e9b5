import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { PART_KINDS, type ListedPart } from '~/core/parts/parts';
import { useTranslation } from '../words/words';

/** Parts to choose from, kind by kind; each says which inputs come with it. */
export function PartList({
  parts,
  chosen,
  onChange,
}: {
  parts: readonly ListedPart[];
  chosen: ReadonlySet<string>;
  onChange: (chosen: ReadonlySet<string>) => void;
}) {
  const { t } = useTranslation();
  const list = new Intl.ListFormat('en', { type: 'unit', style: 'short' });
  const set = (ids: readonly string[], on: boolean) => {
    const next = new Set(chosen);
    for (const id of ids)
      if (on) next.add(id);
      else next.delete(id);
    onChange(next);
  };
  return (
    <>
      {PART_KINDS.map((kind) => {
        const these = parts.filter((part) => part.kind === kind);
        if (these.length === 0) return null;
        const on = these.filter(({ id }) => chosen.has(id)).length;
        return (
          <fieldset key={kind} className="parts-kind">
            <legend>
              <FormControlLabel
                control={
                  <Checkbox
                    size="small"
                    checked={on === these.length}
                    indeterminate={on > 0 && on < these.length}
                    onChange={(_, all) =>
                      set(
                        these.map(({ id }) => id),
                        all,
                      )
                    }
                  />
                }
                label={<b>{t(`parts.kind.${kind}`, { count: these.length })}</b>}
              />
            </legend>
            <div>
              {these.map(({ id, name, inputs }) => (
                <FormControlLabel
                  key={id}
                  control={
                    <Checkbox size="small" checked={chosen.has(id)} onChange={(_, take) => set([id], take)} />
                  }
                  label={
                    <>
                      {name}
                      {inputs.length > 0 && (
                        <span className="computer-hint">
                          {' '}
                          {t('parts.with', { inputs: list.format(inputs) })}
                        </span>
                      )}
                    </>
                  }
                />
              ))}
            </div>
          </fieldset>
        );
      })}
    </>
  );
}
