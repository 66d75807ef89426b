export const CHROMIUM_FLAGS: string[];
