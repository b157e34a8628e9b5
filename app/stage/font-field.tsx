import ListSubheader from '@mui/material/ListSubheader';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useRef, useState } from 'react';
import { useFetcher } from 'react-router';
import { messageOf } from '~/core/fault';
import { FONTS, type OwnFont, type TextStyle } from '~/core/show/records';
import { HiddenFile } from '../studio/hidden-file';
import { useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { bringIn } from './upload-file';

const FROM_FILE = 'file';
const nameOf = (name: string) => name.replace(/\.\w+$/, '');

type Face = Pick<TextStyle, 'font' | 'ownFont'>;

/** The font of a text: one that comes with the studio, one that was brought in, or a file. */
export function FontField({
  font,
  ownFont,
  onChange,
}: Face & {
  /** `ownFont` is absent with a font that comes with the studio. */
  onChange: (face: Face) => void;
}) {
  const { t } = useTranslation();
  const { showId, say } = useStudio();
  const fonts = useFetcher<{ fonts: OwnFont[] }>();
  const file = useRef<HTMLInputElement>(null);
  const [share, setShare] = useState<number | null>(null);
  const there = fonts.data?.fonts ?? [];
  const own =
    ownFont && !there.some(({ assetId }) => assetId === ownFont.assetId) ? [ownFont, ...there] : there;
  const choose = (value: string) => {
    if (value === FROM_FILE) return file.current?.click();
    const shipped = FONTS.find((name) => name === value);
    const chosen = own.find(({ assetId }) => assetId === value);
    if (shipped) onChange({ font: shipped });
    else if (chosen) onChange({ font, ownFont: chosen });
  };
  const take = async (chosen: File) => {
    setShare(0);
    try {
      const { asset } = await bringIn(`/show/${showId}/assets`, chosen, setShare);
      if (asset.mime.startsWith('font/'))
        onChange({ font, ownFont: { assetId: asset.id, name: chosen.name.slice(0, 200) } });
      else say(t('fonts.noFont', { name: chosen.name }));
    } catch (error) {
      say(messageOf(error));
    } finally {
      setShare(null);
    }
  };
  return (
    <>
      <TextField
        select
        label={t('fonts.label')}
        value={ownFont?.assetId ?? font}
        disabled={share !== null}
        helperText={share !== null ? t('fonts.coming', { percent: Math.round(share * 100) }) : undefined}
        onChange={({ target }) => choose(target.value)}
        slotProps={{ select: { onOpen: () => void fonts.load(`/show/${showId}/fonts`) } }}
      >
        {FONTS.map((name) => (
          <MenuItem key={name} value={name} style={{ fontFamily: `"${name}"` }}>
            {name.replace(' Variable', '')}
          </MenuItem>
        ))}
        {own.length > 0 && <ListSubheader>{t('fonts.own')}</ListSubheader>}
        {own.map(({ assetId, name }) => (
          <MenuItem key={assetId} value={assetId}>
            {nameOf(name)}
          </MenuItem>
        ))}
        <MenuItem value={FROM_FILE} divider={false}>
          {t('fonts.bringIn')}
        </MenuItem>
      </TextField>
      <HiddenFile
        of={file}
        label={t('fonts.file')}
        accept=".ttf,.otf,.woff,.woff2"
        onFiles={([chosen]) => void take(chosen)}
      />
    </>
  );
}
