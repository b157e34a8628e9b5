import Button from '@mui/material/Button';
import { useRef, useState } from 'react';
import { messageOf } from '~/core/fault';
import { asIn, byLogo } from '~/core/parts/kit-colours';
import type { PaletteColour } from '~/core/parts/kit';
import { mainColours } from '~/core/picture/main-colours';
import { HiddenFile } from '../studio/hidden-file';
import { useTranslation } from '../words/words';

/** A logo is looked at in this many points each way: its colours are the same. */
const SIDE = 96;
const LOGO_COLOURS = 6;

/** A kit's colours by what they do: each by hand, or all at once, as the show or a logo has them. */
export function KitColours({
  palette,
  colours,
  onChange,
  show,
}: {
  palette: readonly PaletteColour[];
  /** Exchanged, from → to. */
  colours: ReadonlyMap<string, string>;
  onChange: (colours: ReadonlyMap<string, string>) => void;
  /** That of the show it comes into. */
  show: readonly PaletteColour[];
}) {
  const { t } = useTranslation();
  const file = useRef<HTMLInputElement>(null);
  const [problem, setProblem] = useState('');
  const own = asIn(palette, show);
  const take = (next: ReadonlyMap<string, string>, otherwise = '') => {
    setProblem(otherwise);
    if (otherwise === '') onChange(next);
  };
  const fromLogo = async (logo: File) => {
    try {
      const next = byLogo(palette, await coloursOfPicture(logo));
      take(next, next.size === 0 ? t('parts.logoGrey', { name: logo.name }) : '');
    } catch (error) {
      take(colours, t('parts.logoUnread', { name: logo.name, why: messageOf(error) }));
    }
  };
  return (
    <fieldset className="parts-kind">
      <legend>
        <b>{t('parts.colours')}</b>
      </legend>
      <div className="parts-colour-ways">
        {own.size > 1 && <Button onClick={() => take(own)}>{t('parts.showColours')}</Button>}
        <Button onClick={() => file.current?.click()}>{t('parts.logo')}</Button>
        <Button disabled={colours.size === 0} onClick={() => take(new Map())}>
          {t('parts.kitColours')}
        </Button>
      </div>
      <HiddenFile
        of={file}
        label={t('parts.logoFile')}
        accept="image/*"
        onFiles={([logo]) => void fromLogo(logo)}
      />
      <p className="parts-problem computer-problem" role="alert">
        {problem}
      </p>
      <div className="parts-colours">
        {palette.map(({ role, colour }) => (
          <label key={colour}>
            <input
              type="color"
              value={(colours.get(colour) ?? colour).toLowerCase()}
              onChange={(e) => take(new Map(colours).set(colour, e.target.value.toUpperCase()))}
            />
            {role}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

/** @throws Error when the browser cannot read it */
async function coloursOfPicture(file: File): Promise<string[]> {
  // An element also reads what is drawn in lines, which has no size of its own at times.
  const picture = new Image();
  const url = URL.createObjectURL(file);
  try {
    picture.src = url;
    await picture.decode();
    const longest = Math.max(picture.naturalWidth, picture.naturalHeight, 1);
    const size = (side: number) => Math.max(1, Math.round(((side || longest) * SIDE) / longest));
    const [width, height] = [size(picture.naturalWidth), size(picture.naturalHeight)];
    const context = new OffscreenCanvas(width, height).getContext('2d')!;
    context.drawImage(picture, 0, 0, width, height);
    const { data } = context.getImageData(0, 0, width, height);
    return mainColours(data, LOGO_COLOURS).map(({ colour }) => colour);
  } finally {
    URL.revokeObjectURL(url);
  }
}
