import DarkModeRounded from '@mui/icons-material/DarkModeRounded';
import LightModeRounded from '@mui/icons-material/LightModeRounded';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useColorScheme } from '@mui/material/styles';

export function ThemeSwitch() {
  const { mode, setMode } = useColorScheme();
  const dark = mode !== 'light';
  const words = dark ? 'Light theme (Limestone)' : 'Dark theme (Dusk)';
  return (
    <Tooltip title={words}>
      <IconButton aria-label={words} onClick={() => setMode(dark ? 'light' : 'dark')}>
        {dark ? <LightModeRounded fontSize="small" /> : <DarkModeRounded fontSize="small" />}
      </IconButton>
    </Tooltip>
  );
}
