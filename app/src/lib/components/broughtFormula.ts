/* A formula on its way from a page of this window into a ledger. */

let brought: string | undefined;

/** Notes the formula that was pressed; the ledger that opens next enters it. */
export const bringFormula = (formula: string): void => void (brought = formula);

/** Returns the formula that was noted, once. */
export function takeBrought(): string | undefined {
  const formula = brought;
  brought = undefined;
  return formula;
}
