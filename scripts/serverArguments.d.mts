export declare const SERVER_ARGUMENTS: readonly string[];
