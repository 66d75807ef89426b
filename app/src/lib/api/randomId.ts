/** So many hexadecimal digits by chance. Unlike `crypto.randomUUID` it is also there where a page comes without TLS. */
export function randomId(digits: number): string {
  const bytes = crypto.getRandomValues(new Uint8Array(Math.ceil(digits / 2)));
  return Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0'))
    .join('')
    .slice(0, digits);
}
