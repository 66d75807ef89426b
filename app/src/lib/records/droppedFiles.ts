import { unzip } from 'fflate';
import { isSpreadsheet } from '@jaunty-ledger/files/formats/zipStart';

/** Files that are entered together at most. */
export const MOST_FILES = 5000;
/** Bytes that a zip is unpacked up to here; a larger one is sent as it is. */
const MOST_ZIP_BYTES = 512 << 20;
/** What programs leave beside files. */
const LEFT_BESIDE = /(^|\/)(\.|__MACOSX\/|thumbs\.db$|desktop\.ini$)/i;

/** All files that were dropped, those of folders too. */
export async function filesOfDrop(transfer: DataTransfer): Promise<File[]> {
  // entries have to be taken before anything is waited for
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry?.() ?? undefined);
  const plain = [...transfer.files];
  if (!entries.some((entry) => entry?.isDirectory)) return unpackedZips(plain);
  const files: File[] = [];
  for (const entry of entries) if (entry) await gather(entry, files);
  return unpackedZips(files.filter(({ name }) => !LEFT_BESIDE.test(name)));
}

/** The files of those zips that hold several; other files as they are. */
export async function unpackedZips(files: readonly File[]): Promise<File[]> {
  const all = await Promise.all(files.map(unpackedZip));
  return all.flat();
}

async function unpackedZip(file: File): Promise<File[]> {
  const start = new Uint8Array(await file.slice(0, 128).arrayBuffer());
  const isZip = start[0] === 0x50 && start[1] === 0x4b && start[2] === 3;
  if (!isZip || isSpreadsheet(start) || file.size > MOST_ZIP_BYTES) return [file];
  const bytes = new Uint8Array(await file.arrayBuffer());
  let total = 0;
  const filter = ({ name, originalSize }: { name: string; originalSize: number }) =>
    !name.endsWith('/') && !LEFT_BESIDE.test(name) && (total += originalSize) <= MOST_ZIP_BYTES;
  const parts = await new Promise<[string, Uint8Array][]>((resolve) =>
    // a damaged one is sent as it is: the answer says what is wrong with it
    unzip(bytes, { filter }, (error, found) => resolve(error ? [] : Object.entries(found))),
  );
  if (parts.length < 2 || total > MOST_ZIP_BYTES) return [file];
  return parts.map(([name, data]) => new File([data.slice()], name.split('/').at(-1)!));
}

async function gather(entry: FileSystemEntry, into: File[]): Promise<void> {
  if (into.length > MOST_FILES) return; // too many already
  if (entry.isFile) {
    into.push(await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject)));
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  for (;;) {
    // a folder is told in parts, until one is empty
    const part = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (part.length === 0) return;
    for (const inner of part) await gather(inner, into);
  }
}
