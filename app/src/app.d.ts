import type { IncomingMessage } from 'node:http';
import type { Gate } from '$lib/server/auth/gate';
import type { Access } from '$lib/api/tokens';
import type { Store } from '$lib/server/store/store';

declare global {
  namespace App {
    interface Locals {
      store: Store;
      gate: Gate;
      /** Who asks, and what he may. */
      who: string;
      access: Access;
    }
    interface Platform {
      req?: IncomingMessage;
    }
  }
}

export {};
