const KIND = 'sqlite:';

/** Whether an address is one of a store, as far as one can tell without opening it. */
export const isStoreAddress = (address: string): boolean => address.startsWith(KIND) && address.length > KIND.length;

/** The folder of an address. @throws where it is none */
export function folderOf(address: string): string {
  if (!isStoreAddress(address)) throw new Error(`A store lies at \`sqlite:\` and a folder, not at \`${address}\`.`);
  return address.slice(KIND.length);
}
