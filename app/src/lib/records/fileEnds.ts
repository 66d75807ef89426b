/** The beginning of a file and its end, in base 64; the latter empty where the beginning is all of it. */
interface FileEnds {
  head: string;
  tail: string;
}

/** Bytes of the end that are looked at. */
const TAIL_BYTES = 16 << 10;

/** A file is taken whole where it is not longer than `mostBytes`. */
export async function fileEnds(file: File, headBytes: number, mostBytes = headBytes): Promise<FileEnds> {
  const taken = file.size <= mostBytes ? file.size : Math.min(file.size, headBytes);
  const head = await base64(file.slice(0, taken));
  const tail = file.size > taken ? await base64(file.slice(Math.max(taken, file.size - TAIL_BYTES))) : '';
  return { head, tail };
}

async function base64(part: Blob): Promise<string> {
  const url = await new Promise<string>((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as string);
    reader.onerror = () => reject(reader.error ?? new Error('the file cannot be read'));
    reader.readAsDataURL(part);
  });
  return url.slice(url.indexOf(',') + 1);
}
