import type { Store } from '$lib/server/store/connection';

declare global {
  namespace App {
    interface Locals {
      db: Store;
    }
  }
}

export {};
