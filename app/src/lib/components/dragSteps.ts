import type { Action } from 'svelte/action';

/** Pixels of a drag that make one step. */
const STEP_PX = 5;

interface DragSteps {
  /** A drag begins: gives what is told the steps from there, ten times as many with Shift. */
  begin: () => (steps: number) => void;
  /** It was pressed and not dragged. */
  press: () => void;
}

/** Turns what stands in a node by dragging it sideways. A field that is written in is left alone. */
export const dragSteps: Action<HTMLElement, DragSteps> = (node, acts) => {
  let current = acts;
  let drag: { x: number; turn: (steps: number) => void; isMoved: boolean } | undefined;
  const down = (event: PointerEvent) => {
    if (event.button !== 0 || document.activeElement === node) return;
    event.preventDefault();
    node.setPointerCapture(event.pointerId);
    drag = { x: event.clientX, turn: current.begin(), isMoved: false };
  };
  const move = (event: PointerEvent) => {
    if (!drag) return;
    const steps = Math.trunc((event.clientX - drag.x) / STEP_PX);
    drag.isMoved ||= steps !== 0;
    // always from where the drag began, so that going back gives back what it started with
    if (drag.isMoved) drag.turn(steps * (event.shiftKey ? 10 : 1));
  };
  const up = () => {
    if (drag && !drag.isMoved) current.press();
    drag = undefined;
  };
  const cancel = () => (drag = undefined);
  node.addEventListener('pointerdown', down);
  node.addEventListener('pointermove', move);
  node.addEventListener('pointerup', up);
  node.addEventListener('pointercancel', cancel);
  return {
    update(next) {
      current = next;
    },
  };
};
