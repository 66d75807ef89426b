/** Added and taken away again it leaves a whole number. */
const ROUNDS = 1.5 * 2 ** 52;

/** The nearest whole number to one below 2^51: quicker than to ask for it. Of two as near the even one. */
export const nearestWhole = (x: number): number => x + ROUNDS - ROUNDS;

/**
 * A whole number below 2^51 that the engine does not take for one: where it is worked with fractions in a loop it would be
 * turned into one in each row, which takes a tenth of the time.
 */
export const asFraction = (whole: number): number => whole + 0.5 - 0.5;
