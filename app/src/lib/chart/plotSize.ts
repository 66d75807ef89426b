/** Width of the figures at the right of a plot. */
export const AXIS_PX = 58;
