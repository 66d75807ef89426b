import { filesOfDrop } from './droppedFiles';

/* Files that are dropped on another page are carried to Records; without this the browser would leave the page. */

let carried: Promise<File[]> | undefined;

const holdsFiles = (event: DragEvent): boolean => event.dataTransfer?.types.includes('Files') ?? false;

/** Lets files be dropped on a page. */
export function allowFiles(event: DragEvent): void {
  if (holdsFiles(event)) event.preventDefault();
}

/** Takes files that were dropped, for Records. @returns whether there were some */
export function carryFiles(event: DragEvent): boolean {
  if (event.defaultPrevented || !holdsFiles(event)) return false;
  event.preventDefault();
  carried = filesOfDrop(event.dataTransfer!);
  return true;
}

/** Returns the files that were dropped on another page, once. */
export function takeCarried(): Promise<File[]> | undefined {
  const files = carried;
  carried = undefined;
  return files;
}
