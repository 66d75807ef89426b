import type { Server } from 'node:http';

export function roundRobin(targets: readonly string[], port: number): Promise<Server>;
