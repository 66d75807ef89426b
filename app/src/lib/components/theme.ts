import type { ThemeConfig } from 'flowbite-svelte';

/**
 * The library's controls as words and fields of a book: no boxes, rings or shades of their own. What each look is (a stressed
 * word, a quiet one, a field on a line) is a class of app.css, so that links and other words can have it too.
 */
const PLAIN = 'inline-block w-auto rounded-none border-0 p-0 text-[length:inherit] leading-[inherit] text-inherit';
const CLEAR = 'bg-transparent dark:bg-transparent dark:text-inherit';
const FOCUSED = 'focus-visible:outline-2 focus-visible:outline-(--blue) focus-visible:outline-offset-2';

export const THEME: ThemeConfig = {
  button: {
    base: `${PLAIN} ${CLEAR} ${FOCUSED} font-[inherit] text-start hover:bg-transparent dark:hover:bg-transparent focus-within:ring-0`,
  },
  input: { input: `${PLAIN} ${CLEAR} ${FOCUSED}` },
  // whitespace around what it wraps is none of the sentence
  select: { base: 'inline-flex w-auto max-w-full', select: `${PLAIN} ${CLEAR} ${FOCUSED} appearance-none` },
  textarea: { div: 'contents' },
  checkbox: {
    base: 'size-3.5 me-0.5 rounded-none border-(--ink) bg-(--paper) dark:bg-(--paper) dark:border-(--ink) accent-(--blue) focus:ring-0',
  },
  fileupload: { wrapper: 'absolute w-auto' },
  modal: {
    base: 'max-h-[calc(100dvh-32px)] rounded-none divide-y-0 border border-t-[3px] border-t-double border-(--rule) border-t-(--margin-rule) bg-(--paper) text-(--ink) dark:bg-(--paper) dark:text-(--ink)',
    header: 'px-6 pt-4 pb-2 md:px-6 md:pt-4 md:pb-2 text-[18px] text-inherit dark:text-inherit',
    body: 'px-6 pt-0 pb-4 md:px-6 md:pt-0 md:pb-4',
  },
  table: { div: 'contents', table: 'w-auto text-[13.5px] text-inherit dark:text-inherit' },
};
