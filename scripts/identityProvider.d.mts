export function startProvider(options?: { port?: number; client?: string; secret?: string; forged?: string }): Promise<{
  issuer: string;
  client: string;
  secret: string;
  ended: string[];
  end: () => void;
}>;
