import type { ClipboardEvent } from 'react';
import { useStageCommands } from './stage-commands';

/**
 * Copy, cut and paste of layers by the browser's own keys and menu. The layers travel as text, so they reach other
 * scenes, windows and shows.
 */
export function useStageClipboard() {
  const commands = useStageCommands();
  const inText = (event: ClipboardEvent) =>
    event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement;
  const copy = (event: ClipboardEvent): boolean => {
    if (inText(event)) return false;
    const text = commands.clipboardText();
    if (text === null) return false;
    event.clipboardData.setData('text/plain', text);
    event.preventDefault();
    return true;
  };
  return {
    onCopy: (event: ClipboardEvent) => void copy(event),
    onCut: (event: ClipboardEvent) => {
      if (copy(event)) commands.remove();
    },
    onPaste: (event: ClipboardEvent) => {
      if (inText(event)) return;
      const text = event.clipboardData.getData('text/plain');
      if (text === '') return;
      event.preventDefault();
      void commands.paste(text, 'in place');
    },
  };
}
