import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import TextField from '@mui/material/TextField';
import { useMemo, useState } from 'react';
import { paletteOf, recoloured, takenKit } from '~/core/parts/kit';
import { listParts, partsOf } from '~/core/parts/parts';
import { documentWith, takenOver } from '~/core/parts/take-over';
import { recordsOf } from '~/core/show/document';
import { useStage } from '../stage/stage-context';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { KitColours } from './kit-colours';
import { PartList } from './part-list';
import { PartsPreviewBox } from './parts-preview';
import type { Source } from './source';

/** Which parts, in which colours, with which words; then all of it at once, to be undone at once. */
export function ChooseParts({
  source: { name, parts, kit, missing },
  onBack,
  onClose,
}: {
  source: Source;
  onBack: () => void;
  onClose: () => void;
}) {
  const { t } = useTranslation();
  const { say } = useStudio();
  const { base, edit } = useStage();
  const whole = useMemo(() => documentWith(parts, base()), [parts, base]);
  const list = useMemo(() => listParts(whole), [whole]);
  // A kit is meant to be taken whole; of a show one wants a part.
  const [chosen, setChosen] = useState<ReadonlySet<string>>(
    () => new Set(kit ? list.map(({ id }) => id) : []),
  );
  const [fields, setFields] = useState<Record<string, string>>({});
  const [colours, setColours] = useState<ReadonlyMap<string, string>>(new Map());
  const show = recordsOf(base(), 'show')[0];
  const asked = useMemo(
    () => Object.entries(partsOf(whole, chosen).fields).filter(([key]) => !Object.hasOwn(show.fields, key)),
    [whole, chosen, show],
  );
  const take = () => {
    const records = recoloured(parts.records, colours);
    const { put } = takenOver({ ...parts, records }, chosen, base(), fields, () => crypto.randomUUID());
    if (kit) {
      const at = put.findIndex(({ kind }) => kind === 'show');
      const own = at < 0 ? show : (put.splice(at, 1)[0] as typeof show);
      put.push({ ...own, kits: [...own.kits, takenKit(crypto.randomUUID(), name, put)] });
    }
    if (!edit(t('parts.takeEdit', { name }), put)) return;
    say(t('parts.took', { count: chosen.size, name }));
    onClose();
  };
  const names = new Intl.ListFormat('en');
  const seen = useMemo(
    () => documentWith({ ...parts, records: recoloured(parts.records, colours) }, base()),
    [parts, colours, base],
  );
  const own = useMemo(() => paletteOf([...base().values()]), [base]);
  const hasScenes = list.some(({ kind }) => kind === 'scene');
  return (
    <>
      <DialogContent className="parts">
        {hasScenes && <PartsPreviewBox parts={seen} />}
        {kit && kit.about !== '' && <p className="computer-hint">{kit.about}</p>}
        {missing.length > 0 && (
          <p role="alert" className="computer-problem">
            {t('parts.missing', { files: names.format(missing) })}
          </p>
        )}
        <PartList parts={list} chosen={chosen} onChange={setChosen} />
        {kit && kit.palette.length > 0 && (
          <KitColours palette={kit.palette} colours={colours} onChange={setColours} show={own} />
        )}
        {asked.length > 0 && (
          <fieldset className="parts-kind">
            <legend>
              <b>{t('parts.fields')}</b>
            </legend>
            <div className="parts-fields">
              {asked.map(([key, value]) => (
                <TextField
                  key={key}
                  label={key}
                  value={fields[key] ?? value}
                  onChange={(e) => setFields({ ...fields, [key]: e.target.value.slice(0, 1000) })}
                />
              ))}
            </div>
          </fieldset>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onBack}>{t('parts.back')}</Button>
        <span className="parts-room" />
        <Button onClick={onClose}>{t('parts.cancel')}</Button>
        <Button variant="contained" disabled={chosen.size === 0} onClick={take}>
          {t('parts.take', { count: chosen.size })}
        </Button>
      </DialogActions>
    </>
  );
}
