import type { Block } from '$lib/api/handovers';
import { picturesOf } from '$lib/pages/savePictures';
import { newId } from './blocks';

/** The pictures within a part of a page, as blocks. */
export const picturesIn = async (part: HTMLElement | undefined, source: string): Promise<Block[]> =>
  (await picturesOf(part)).map(({ says, text }) => ({
    ...{ id: newId(), kind: 'picture', title: says.slice(0, 200), svg: text, source: source.slice(0, 500) },
  }));
