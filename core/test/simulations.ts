/** Whether large simulations run whole, as `npm run test:deep` does. */
const isDeep = process.env.TEST_DEEP !== undefined;

/** The number of simulated paths: all in deep tests, otherwise a fifth. */
export const pathCount = (all: number): number => (isDeep ? all : Math.ceil(all / 5));

/** Cases that a property is tried with: all in deep tests, otherwise a third. */
export const runs = (all: number): number => (isDeep ? all : Math.ceil(all / 3));

/**
 * The bound on the error of a mean over fewer paths.
 * @param within     the bound over `all` paths
 * @param deviation  of a single path
 * @returns the bound, widened by three times what the standard error of the mean grows
 */
export const widened = (within: number, deviation: number, all: number, paths = pathCount(all)): number =>
  within + 3 * deviation * (1 / Math.sqrt(paths) - 1 / Math.sqrt(all));
