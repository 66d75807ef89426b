/** A page of ours that somebody wanted to see; never an address elsewhere. */
export const pathOf = (to: string | null): string => (to && /^\/(?![/\\])/.test(to) ? to : '/');
