/** What has steps that can be taken back. */
interface Steps {
  undo: () => void;
  redo: () => void;
}

/** Takes the last step back by Ctrl Z, or forth again with Shift; what is written into a field is not among them. */
export const stepKeys =
  (steps: Steps) =>
  (event: KeyboardEvent): void => {
    const isWriting = event.target instanceof Element && event.target.closest('input, select, textarea') !== null;
    if (!(event.ctrlKey || event.metaKey) || event.altKey || event.key.toLowerCase() !== 'z' || isWriting) return;
    event.preventDefault();
    if (event.shiftKey) steps.redo();
    else steps.undo();
  };
