export const sourceAliases: Record<string, string>;
