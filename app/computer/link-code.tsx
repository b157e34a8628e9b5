import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import { useEffect, useState } from 'react';
import type { DoorAddress } from '~/protocol/door';
import { useTranslation } from '../words/words';

/** A link as a code for a phone's camera and as words to be sent. */
export function LinkCode({ token, addresses }: { token: string; addresses: readonly DoorAddress[] }) {
  const { t } = useTranslation();
  const [chosen, setChosen] = useState<string | null>(null);
  const [picture, setPicture] = useState<{ of: string; src: string } | null>(null);
  const [copied, setCopied] = useState(false);
  // Addresses come and go while this is open: what was chosen stays chosen, whatever its place.
  const address = addresses.find(({ url }) => url === chosen) ?? addresses[0];
  const link = address && `${address.url}#${token}`;
  useEffect(() => {
    if (!link) return;
    let gone = false;
    setCopied(false);
    // Needed here alone: it does not belong to what every page loads.
    void import('qrcode').then(async ({ toDataURL }) => {
      const src = await toDataURL(link, { margin: 2, scale: 6, errorCorrectionLevel: 'M' });
      if (!gone) setPicture({ of: link, src });
    });
    return () => {
      gone = true;
    };
  }, [link]);
  if (!link) return <p className="computer-hint">{t('computer.linkToken', { token })}</p>;
  return (
    <div className="link-code">
      <div className="link-picture">
        {/* Code and words never lead to two places, not even while the next code is being made. */}
        {picture?.of === link && <img src={picture.src} alt={t('computer.code')} width="220" height="220" />}
      </div>
      <div>
        {addresses.length > 1 && (
          <TextField
            select
            fullWidth
            label={t('computer.address')}
            value={address.url}
            onChange={(e) => setChosen(e.target.value)}
          >
            {addresses.map(({ url }) => (
              <MenuItem key={url} value={url}>
                {url}
              </MenuItem>
            ))}
          </TextField>
        )}
        <p className="link-words">
          <code>{link}</code>
        </p>
        <Button
          className="raised"
          onClick={() => void navigator.clipboard.writeText(link).then(() => setCopied(true))}
        >
          {copied ? t('computer.copied') : t('computer.copy')}
        </Button>
        {address.fingerprint !== null && (
          <p className="computer-hint">
            {t('computer.fingerprint')} <code className="fingerprint">{address.fingerprint}</code>
          </p>
        )}
      </div>
    </div>
  );
}
