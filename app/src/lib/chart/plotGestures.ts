import type { Action } from 'svelte/action';

/** What a hand does to a plot, in shares of its width from the left. */
export interface PlotGestures {
  /** Whether it stands on a page that is scrolled, so that the wheel is its own with Ctrl alone. */
  isScrolledOver?: boolean;
  /** The pointer is over the plot, or has left it. */
  point: (share: number | undefined) => void;
  /** Drag by a share of the width; positive moves the picture to the right. */
  pan: (share: number) => void;
  zoom: (factor: number, about: number) => void;
  fit: () => void;
  /** Moves the figures' row by so many, without a pointer. */
  step: (rows: number) => void;
  /** Measures between two places; nothing ends it. */
  measure: (from: number | undefined, to?: number) => void;
  /** Holds the place under the pointer fast, or lets it go. */
  pin: (share: number) => void;
}

const WHEEL_ZOOM = 1.0015;
const KEY_ZOOM = 1.25;
const KEY_PAN = 0.1;

/** Whether something that lies on the plot and is used by itself is meant: a button, or a note that is written. */
const isForControl = ({ target }: Event): boolean =>
  target instanceof Element && target.closest('button, input, select, textarea, a') !== null;

/** Dragging, wheel, pinch, double click and keys of a plot. */
export const plotGestures: Action<HTMLElement, PlotGestures> = (node, gestures) => {
  let acts = gestures;
  const fingers = new Map<number, number>();
  let measured: number | undefined;
  let downAt = NaN;
  const share = (event: MouseEvent) => (event.clientX - node.getBoundingClientRect().left) / node.clientWidth;

  const down = (event: PointerEvent) => {
    if (event.button !== 0 || isForControl(event)) return;
    node.setPointerCapture(event.pointerId);
    downAt = event.clientX;
    if (event.shiftKey) {
      measured = share(event);
      return acts.measure(measured, measured);
    }
    acts.measure(undefined);
    fingers.set(event.pointerId, share(event));
  };
  const move = (event: PointerEvent) => {
    const at = share(event);
    if (measured !== undefined) {
      acts.point(at);
      return acts.measure(measured, at);
    }
    const before = fingers.get(event.pointerId);
    if (before === undefined) return acts.point(at);
    if (fingers.size === 1) acts.pan(at - before);
    else {
      const [other] = [...fingers].filter(([id]) => id !== event.pointerId).map(([, place]) => place);
      const [was, is] = [Math.abs(before - other), Math.abs(at - other)];
      if (is > 0.01) acts.zoom(was / is, (at + other) / 2);
    }
    fingers.set(event.pointerId, at);
  };
  const up = (event: PointerEvent) => {
    // a press that did not move is no drag
    if (fingers.size === 1 && measured === undefined && Math.abs(event.clientX - downAt) < 3) acts.pin(share(event));
    measured = undefined;
    fingers.delete(event.pointerId);
  };
  const leave = () => acts.point(undefined);
  const wheel = (event: WheelEvent) => {
    if (acts.isScrolledOver && !event.ctrlKey) return;
    event.preventDefault();
    const across = Math.abs(event.deltaX) > Math.abs(event.deltaY) || event.shiftKey;
    if (across) acts.pan(-(event.deltaX || event.deltaY) / node.clientWidth);
    else acts.zoom(WHEEL_ZOOM ** event.deltaY, share(event));
  };
  const fit = (event: MouseEvent) => {
    if (!isForControl(event)) acts.fit();
  };
  const key = (event: KeyboardEvent) => {
    const act = KEYS[event.key];
    if (!act || event.ctrlKey || event.metaKey || event.altKey || isForControl(event)) return;
    event.preventDefault();
    act(acts, event.shiftKey);
  };
  node.addEventListener('pointerdown', down);
  node.addEventListener('pointermove', move);
  node.addEventListener('pointerup', up);
  node.addEventListener('pointercancel', up);
  node.addEventListener('pointerleave', leave);
  node.addEventListener('wheel', wheel, { passive: false });
  node.addEventListener('dblclick', fit);
  node.addEventListener('keydown', key);
  return {
    update(next) {
      acts = next;
    },
  };
};

const KEYS: Record<string, (gestures: PlotGestures, shift: boolean) => void> = {
  ArrowLeft: (acts, shift) => (shift ? acts.pan(KEY_PAN) : acts.step(-1)),
  ArrowRight: (acts, shift) => (shift ? acts.pan(-KEY_PAN) : acts.step(1)),
  PageUp: (acts) => acts.pan(1),
  PageDown: (acts) => acts.pan(-1),
  '+': (acts) => acts.zoom(1 / KEY_ZOOM, 0.5),
  '=': (acts) => acts.zoom(1 / KEY_ZOOM, 0.5),
  '-': (acts) => acts.zoom(KEY_ZOOM, 0.5),
  Home: (acts) => acts.pan(Infinity),
  End: (acts) => acts.pan(-Infinity),
  '0': (acts) => acts.fit(),
  Escape: (acts) => {
    acts.point(undefined);
    acts.measure(undefined);
  },
};
