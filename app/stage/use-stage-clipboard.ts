import type { ClipboardEvent, DragEvent } from 'react';
import { useStageCommands } from './stage-commands';
import { useAdd } from './use-add';

/**
 * Copy, cut and paste of layers by the browser's own keys and menu. The layers travel as text, so they reach other
 * scenes, windows and shows. Files that are dropped or pasted become inputs of their kind.
 */
export function useStageClipboard() {
  const commands = useStageCommands();
  const { addFiles } = useAdd();
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
      const files = [...event.clipboardData.files];
      if (files.length > 0) {
        event.preventDefault();
        return void addFiles(files, true);
      }
      const text = event.clipboardData.getData('text/plain');
      if (text === '') return;
      event.preventDefault();
      void commands.paste(text, 'in place');
    },
    // Without it the browser would open the file, and leave the studio.
    onDragOver: (event: DragEvent) => {
      if (event.dataTransfer.types.includes('Files')) event.preventDefault();
    },
    onDrop: (event: DragEvent) => {
      const files = [...event.dataTransfer.files];
      if (files.length === 0) return;
      event.preventDefault();
      void addFiles(files, true);
    },
  };
}
